import classNames from "classnames/bind";
import { Button, Dropdown, Switch } from "antd";
import { useShallow } from "zustand/react/shallow";
import { select, useBench } from "../../../state/bench";
import { addName, plotModes } from "../../../state/charts";
import type { Chart, NameKind } from "../../../state/document";
import { edit, here } from "../../../state/model";
import { told } from "../../../ui/format";
import { TextField } from "../../../ui/TextField";
import { NamePanel } from "./NamePanel";
import { StatePanel } from "./StatePanel";
import { TakenList } from "./TakenList";
import { TransitionPanel } from "./TransitionPanel";
import styles from "./chart.module.css";

const cx = classNames.bind(styles);

export const KINDS: readonly { kind: NameKind; title: string; one: string }[] = [
  { kind: "input", title: "Inputs", one: "Input" },
  { kind: "event", title: "Events", one: "Event" },
  { kind: "output", title: "Outputs", one: "Output" },
  { kind: "local", title: "Locals", one: "Local" },
  { kind: "parameter", title: "Parameters", one: "Parameter" },
  { kind: "signal", title: "Signals of the chart", one: "Signal of the chart" },
];

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
      <NameTable chart={chart} />
      <Dropdown
        trigger={["click"]}
        menu={{ items: KINDS.map((k) => ({ key: k.kind, label: k.one, onClick: () => void addName(k.kind) })) }}
      >
        <Button size="small">Add a name</Button>
      </Dropdown>
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

/** Names by what they are, with type and present value. */
function NameTable({ chart }: { chart: Chart }) {
  const { view, values, time } = useBench(useShallow((s) => ({ view: s.view, values: s.values, time: s.time })));
  const names = Object.entries(chart.names).sort((a, b) => a[1].order - b[1].order);
  const valueOf = (name: string, kind: NameKind) => {
    if (kind === "parameter") return view.parameters[name]?.display ?? String(view.parameters[name]?.value ?? "");
    const value = time === null ? undefined : values.get(name);
    const word = value === undefined ? undefined : view.chart?.words[name]?.[Math.round(value) - 1];
    return word ?? told(value, view.signals[name]);
  };
  return (
    <table className={cx("names")} aria-label="Names of the chart">
      <tbody>
        {KINDS.map(({ kind, title }) => {
          const own = names.filter(([, n]) => n.kind === kind);
          if (own.length === 0) return null;
          return [
            <tr key={kind} className={cx("head")}>
              <th colSpan={4} scope="colgroup" className={cx(`kind-${kind}`)}>
                {title}
              </th>
            </tr>,
            ...own.map(([id, n]) => (
              <tr
                key={id}
                tabIndex={0}
                title={n.description}
                onClick={() => select([id])}
                onKeyDown={(e) => e.key === "Enter" && select([id])}
              >
                <td className={cx(`kind-${kind}`)}>
                  <span>{n.name}</span>
                </td>
                <td className="quiet">{n.type.startsWith("{") ? "words" : kind === "event" || kind === "signal" ? "event" : n.type}</td>
                <td className="mono">{valueOf(n.name, kind)}</td>
                <td className="quiet">{view.signals[n.name]?.unit || n.unit || ""}</td>
              </tr>
            )),
          ];
        })}
      </tbody>
    </table>
  );
}
