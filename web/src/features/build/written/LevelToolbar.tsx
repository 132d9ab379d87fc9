import classNames from "classnames/bind";
import { Button } from "antd";
import { useState, type ReactNode } from "react";
import { showPane, useBench } from "../../../state/bench";
import { useCoverage } from "../../../state/coverage";
import { act } from "../../../state/edits";
import { goToPart } from "../../../state/model";
import { FindingsList } from "../../../ui/FindingsList";
import styles from "./levelToolbar.module.css";

const cx = classNames.bind(styles);

/** The tools of a level that is a chart or a table, and what was found in it. */
export function LevelToolbar({ children }: { children: ReactNode }) {
  const findings = useBench((s) => s.view.findings);
  const level = useBench((s) => s.level);
  const pane = useBench((s) => s.pane);
  const hasCases = useBench((s) => Object.keys(s.model.cases).length > 0);
  const marks = useCoverage((s) => s.marks);
  const [list, setList] = useState(false);
  const own = findings.filter((f) => f.part === level || f.part?.startsWith(`${level}/`));
  const others = findings.length - own.length;
  return (
    <>
      <div className={cx("tools")} data-ui>
        {!pane && (
          <Button size="small" onClick={() => showPane("outline")}>
            Outline
          </Button>
        )}
        {children}
        {hasCases && (
          <Button
            size="small"
            aria-pressed={marks}
            className={cx({ pressed: marks })}
            title="How much of each thing on this level the cases came by"
            onClick={() => useCoverage.setState({ marks: !marks })}
          >
            Coverage
          </Button>
        )}
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
