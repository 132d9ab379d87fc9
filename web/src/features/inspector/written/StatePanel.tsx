import classNames from "classnames/bind";
import { Button, Select, Switch } from "antd";
import { useShallow } from "zustand/react/shallow";
import { linesOf, kindsOf } from "../../../canvas/chart/labels";
import { isSmall } from "../../../canvas/chart/geometry";
import { select, stopKey, toggleStop, useBench } from "../../../state/bench";
import { addInner, isMovable, makeFirst, moveToPart, removeChosen, reorder, setState, SHAPES } from "../../../state/charts";
import type { Chart, ChartState } from "../../../state/document";
import { plotSignal } from "../../../state/plotSheets";
import { TextBlock } from "../../../ui/TextBlock";
import { TextField } from "../../../ui/TextField";
import { Approach } from "./Approach";
import styles from "./written.module.css";

const cx = classNames.bind(styles);

const ACTIONS = [
  { key: "entry", label: "On entry" },
  { key: "while", label: "While it is active" },
  { key: "exit", label: "On exit" },
] as const;

/** A state: its name, what it does, the transitions out of it in their order. */
export function StatePanel({ id }: { id: string }) {
  const { chart, view, level, stops } = useBench(
    useShallow((s) => ({ chart: s.chart as Chart, view: s.view, level: s.level, stops: s.stops })),
  );
  const state = chart.states[id] as ChartState;
  const parent = state.parent ? chart.states[state.parent] : undefined;
  const first = view.chart?.first[state.parent ?? ""] === id;
  const inRegion = parent?.kind === "parallel";
  const key = view.chart?.states[id];
  return (
    <>
      <TextField label="Name of the state" title prose value={state.name} commit={(name) => setState(id, "Rename a state", { name })} />
      <p className={cx("sub")}>
        {inRegion ? "Region" : SHAPES[state.kind].label}
        {parent ? ` in ${parent.name}` : ""}
      </p>
      {!isSmall(state) && (
        <>
          {!inRegion && (
            <div className={cx("row")}>
              <label>Entered first</label>
              <Switch size="small" aria-label="Entered first" checked={first} disabled={first} onChange={() => makeFirst(id)} />
            </div>
          )}
          <div className={cx("row")}>
            <label>In it</label>
            <Select
              size="small"
              aria-label="How the states in it go together"
              value={state.kind}
              onChange={(kind) => setState(id, "Change a state", { kind })}
              options={[
                { value: "state", label: "one state is active at a time" },
                { value: "parallel", label: "all are active at once" },
              ]}
            />
          </div>
          {ACTIONS.map(({ key: when, label }) => (
            <div key={when} className={cx("block")}>
              <label>{label}</label>
              <TextBlock
                label={label}
                value={state[when] ?? ""}
                placeholder="such as rudder := 0"
                commit={(text) => setState(id, "Change an action", { [when]: text === "" ? undefined : text })}
              />
            </div>
          ))}
        </>
      )}
      <Ways id={id} chart={chart} />
      <div className={cx("buttons")}>
        {!isSmall(state) && (
          <Button size="small" onClick={() => addInner(id)} title="Done without leaving the state: again and again, or on an event">
            Add one that stays
          </Button>
        )}
        {key &&
          (["entry", "exit"] as const).map((when) => (
            <Button key={when} size="small" aria-pressed={stops.has(stopKey(level, id, when))} onClick={() => toggleStop(id, when)}>
              {stops.has(stopKey(level, id, when)) ? `Do not pause on ${when}` : `Pause on ${when}`}
            </Button>
          ))}
        {key && (
          <Button size="small" onClick={() => plotSignal(`${level}.${key}`)}>
            Plot when it is active
          </Button>
        )}
        {isMovable(chart, id) && (
          <Button size="small" onClick={() => void moveToPart(id)} title="A chart of its own with all that is in it, beside this one">
            Move to a part
          </Button>
        )}
        <Button size="small" onClick={removeChosen}>
          Delete
        </Button>
      </div>
      {key && <Approach id={id} />}
    </>
  );
}

/** The transitions out of a state, the first to be taken on top. */
function Ways({ id, chart }: { id: string; chart: Chart }) {
  const places = useBench((s) => s.view.chart?.places);
  const own = Object.entries(chart.transitions)
    .filter(([, t]) => t.from === id)
    .sort((a, b) => a[1].priority - b[1].priority);
  if (own.length === 0) return null;
  const kinds = kindsOf(chart);
  return (
    <>
      <h3>Transitions, the first that may goes</h3>
      <ul className={cx("ways")}>
        {own.map(([t, node], i) => {
          const text = linesOf(node, kinds)
            .flat()
            .map((p) => p.text)
            .join("");
          const to = node.to ? (chart.states[node.to]?.name ?? "") : "stays";
          return (
            <li key={t}>
              <small>{places?.[t] ?? i + 1}</small>
              <Button type="text" size="small" className={cx("way")} onClick={() => select([t])}>
                <span>
                  {to} <small>{text}</small>
                </span>
              </Button>
              <Button type="text" size="small" disabled={i === 0} aria-label={`Put ${to} earlier`} onClick={() => reorder(t, -1)}>
                ↑
              </Button>
              <Button type="text" size="small" disabled={i === own.length - 1} aria-label={`Put ${to} later`} onClick={() => reorder(t, 1)}>
                ↓
              </Button>
            </li>
          );
        })}
      </ul>
    </>
  );
}
