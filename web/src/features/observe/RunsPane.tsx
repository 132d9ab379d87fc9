import classNames from "classnames/bind";
import { Button } from "antd";
import { useState } from "react";
import { useBench } from "../../state/bench";
import { CurvePanel } from "./CurvePanel";
import { Difference } from "./Difference";
import { MeasureTable } from "./MeasureTable";
import { RunList } from "./RunList";
import { StimulusPanel } from "./StimulusPanel";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

const tabs = [
  { id: "runs", label: "Runs" },
  { id: "measures", label: "Measures" },
  { id: "curve", label: "Curve" },
  { id: "stimuli", label: "Stimuli" },
] as const;

/** Beside the sheets: the runs and why they differ, measures, and what is selected on the sheet. */
export function RunsPane() {
  const [tab, setTab] = useState<(typeof tabs)[number]["id"]>("runs");
  const tile = useBench((s) => s.tile);
  const [seen, setSeen] = useState(tile);
  // Who selects a curve wants to see what can be said of it.
  if (tile !== seen) {
    setSeen(tile);
    if (tile?.curve) setTab("curve");
  }
  return (
    <aside className={cx("runs-pane")} aria-label="Inspector">
      <div className={cx("pane-tabs")} role="group" aria-label="What the inspector shows">
        {tabs.map((t) => (
          <Button
            key={t.id}
            type="text"
            size="small"
            aria-pressed={t.id === tab}
            className={cx("pane-tab", { on: t.id === tab })}
            onClick={() => setTab(t.id)}
          >
            {t.label}
          </Button>
        ))}
      </div>
      {tab === "runs" && (
        <>
          <RunList />
          <Difference />
        </>
      )}
      {tab === "measures" && <MeasureTable />}
      {tab === "curve" && <CurvePanel />}
      {tab === "stimuli" && <StimulusPanel />}
    </aside>
  );
}
