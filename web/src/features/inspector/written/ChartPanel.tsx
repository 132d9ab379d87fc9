import classNames from "classnames/bind";
import { Button, Switch } from "antd";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../../state/bench";
import { plotModes } from "../../../state/charts";
import type { Chart } from "../../../state/document";
import { edit, here } from "../../../state/model";
import { TextField } from "../../../ui/TextField";
import { NamePanel } from "./NamePanel";
import { NameTable } from "./NameTable";
import { StatePanel } from "./StatePanel";
import { TakenList } from "./TakenList";
import { TransitionPanel } from "./TransitionPanel";
import styles from "./written.module.css";

const cx = classNames.bind(styles);

/** What is selected on a chart: a state, a transition, a name, or the chart itself. */
export function ChartPanel() {
  const { chart, selection } = useBench(useShallow((s) => ({ chart: s.chart as Chart, selection: s.selection })));
  const only = selection.size === 1 ? ([...selection][0] as string) : "";
  if (chart.states[only]) return <StatePanel key={only} id={only} />;
  if (chart.transitions[only]) return <TransitionPanel key={only} id={only} />;
  if (chart.names[only]) return <NamePanel key={only} id={only} />;
  return <Whole chart={chart} />;
}

function Whole({ chart }: { chart: Chart }) {
  const { model, definition } = useBench(useShallow((s) => ({ model: s.id, definition: s.definition })));
  const regions = Object.values(chart.states).filter((s) => chart.states[s.parent ?? ""]?.kind === "parallel").length;
  const states = Object.values(chart.states).filter((s) => s.kind === "state" || s.kind === "parallel").length;
  const counted = (n: number, one: string) => `${n} ${one}${n === 1 ? "" : "s"}`;
  return (
    <>
      <h2>{chart.name}</h2>
      <p className={cx("sub")}>
        State chart: {regions > 0 && `${counted(regions, "region")}, `}
        {counted(states, "state")}, {chart.period ? `every ${chart.period}` : "with the continuous model"}
      </p>
      <div className={cx("row")}>
        <label>Runs at a sample time</label>
        <Switch
          size="small"
          aria-label="Runs at a sample time"
          checked={!!chart.period}
          onChange={(on) =>
            edit("Change when the chart looks", [
              on ? { op: "add", path: here("period"), value: "0.1 s" } : { op: "add", path: here("period"), value: null },
            ])
          }
        />
      </div>
      {chart.period && (
        <div className={cx("row")}>
          <label>Period</label>
          <TextField
            label="Period of the chart"
            value={chart.period}
            commit={(text) => edit("Change when the chart looks", [{ op: "add", path: here("period"), value: text }])}
          />
        </div>
      )}
      <NameTable of={chart} />
      <div className={cx("buttons")}>
        <Button size="small" onClick={plotModes} title="Bands of what is active when, on the sheet of plots at hand">
          Plot the modes
        </Button>
        <Button size="small" href={`/api/models/${model}/charts/${definition}/xml`} download={`${chart.name}.scxml`}>
          Write as XML
        </Button>
      </div>
      <TakenList />
    </>
  );
}
