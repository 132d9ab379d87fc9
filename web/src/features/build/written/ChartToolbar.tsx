import classNames from "classnames/bind";
import { Button, Dropdown } from "antd";
import { stateAt } from "../../../canvas/chart/tools";
import { useBench } from "../../../state/bench";
import { addState, group, SHAPES } from "../../../state/charts";
import type { ChartStateKind, Chart, Point } from "../../../state/document";
import { keys, keyText } from "../../../ui/keys";
import { LevelToolbar } from "./LevelToolbar";
import styles from "./chart.module.css";

const cx = classNames.bind(styles);

export function ChartToolbar({ onPlace, onFit, at }: { onPlace: () => void; onFit: () => void; at: () => Point }) {
  const counts = useBench((s) => s.chartCounts);
  const several = useBench((s) => [...s.selection].filter((id) => s.chart && id in s.chart.states).length > 0);
  const place = (kind: ChartStateKind) => {
    const chart = useBench.getState().chart as Chart;
    addState(kind, at(), stateAt(chart, at()));
  };
  return (
    <LevelToolbar>
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
    </LevelToolbar>
  );
}
