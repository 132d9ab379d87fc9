import classNames from "classnames/bind";
import { Button, Dropdown } from "antd";
import { useState } from "react";
import { stateAt } from "../../../canvas/chart/tools";
import { showPane, useBench } from "../../../state/bench";
import { addState, group, SHAPES } from "../../../state/charts";
import type { ChartStateKind, Chart, Point } from "../../../state/document";
import { act } from "../../../state/edits";
import { goToPart } from "../../../state/model";
import { FindingsList } from "../../../ui/FindingsList";
import { keys, keyText } from "../../../ui/keys";
import styles from "./chart.module.css";

const cx = classNames.bind(styles);

export function ChartToolbar({ onPlace, onFit, at }: { onPlace: () => void; onFit: () => void; at: () => Point }) {
  const findings = useBench((s) => s.view.findings);
  const level = useBench((s) => s.level);
  const pane = useBench((s) => s.pane);
  const counts = useBench((s) => s.chartCounts);
  const several = useBench((s) => [...s.selection].filter((id) => s.chart && id in s.chart.states).length > 0);
  const [list, setList] = useState(false);
  const own = findings.filter((f) => f.part === level || f.part?.startsWith(`${level}/`));
  const others = findings.length - own.length;
  const place = (kind: ChartStateKind) => {
    const chart = useBench.getState().chart as Chart;
    addState(kind, at(), stateAt(chart, at()));
  };
  return (
    <>
      <div className={cx("tools")} data-ui>
        {!pane && (
          <Button size="small" onClick={() => showPane("outline")}>
            Outline
          </Button>
        )}
        <Button size="small" onClick={onPlace}>
          State <kbd>{keyText(keys.place)}</kbd>
        </Button>
        <Dropdown
          trigger={["click"]}
          menu={{
            items: (Object.keys(SHAPES) as ChartStateKind[])
              .filter((k) => k !== "state")
              .map((k) => ({ key: k, label: SHAPES[k].label, onClick: () => place(k) })),
          }}
        >
          <Button size="small">More shapes</Button>
        </Dropdown>
        {several && (
          <Button size="small" onClick={() => void group()} title={`Put a state around what is selected (${keyText(keys.enclose)})`}>
            Group
          </Button>
        )}
        <Button size="small" onClick={onFit}>
          Fit <kbd>{keyText(keys.fit)}</kbd>
        </Button>
        <Button
          size="small"
          aria-pressed={counts}
          className={cx({ pressed: counts })}
          title="How often each transition was taken up to the instant of the time bar"
          onClick={() => useBench.setState({ chartCounts: !counts })}
        >
          Counts
        </Button>
        <Button size="small" onClick={() => setList(!list)} aria-pressed={list}>
          {own.length === 0 ? "No findings" : own.length === 1 ? "1 finding" : `${own.length} findings`}
        </Button>
      </div>
      {list && (
        <div className={cx("findings")} data-ui>
          <FindingsList findings={own} onShow={(part) => void goToPart(part)} onFix={act} />
          {others > 0 && <p className="quiet">{others} more elsewhere in the model.</p>}
        </div>
      )}
    </>
  );
}
