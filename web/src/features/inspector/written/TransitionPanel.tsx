import classNames from "classnames/bind";
import { Button, Select, Switch } from "antd";
import { useShallow } from "zustand/react/shallow";
import { stopKey, toggleStop, useBench } from "../../../state/bench";
import { removeChosen, reorder, setTransition } from "../../../state/charts";
import type { Chart, ChartTransition } from "../../../state/document";
import { TextBlock } from "../../../ui/TextBlock";
import { TextField } from "../../../ui/TextField";
import styles from "./written.module.css";

const cx = classNames.bind(styles);

const TIMES = [
  { key: "after", label: "After", hint: "2 s in its state" },
  { key: "heldFor", label: "Guard held for", hint: "0.3 s" },
  { key: "every", label: "Every", hint: "0.1 s, again and again" },
] as const;

/** A transition: where it leads, on what, and what it does. */
export function TransitionPanel({ id }: { id: string }) {
  const { chart, view, level, stops } = useBench(
    useShallow((s) => ({ chart: s.chart as Chart, view: s.view, level: s.level, stops: s.stops })),
  );
  const t = chart.transitions[id] as ChartTransition;
  const name = (state: string | undefined) => (state ? (view.chart?.paths[state] ?? chart.states[state]?.name ?? "") : "");
  const change = (values: Partial<ChartTransition>) => setTransition(id, "Change a transition", values);
  const text = (key: "guard" | "after" | "heldFor" | "every" | "event") => (value: string) =>
    change({ [key]: value === "" ? undefined : value });
  const events = Object.values(chart.names).filter((n) => n.kind === "event" || n.kind === "signal");
  const states = Object.entries(chart.states).map(([s]) => ({ value: s, label: name(s) }));
  return (
    <>
      <h2>
        {name(t.from)} → {t.to ? name(t.to) : "stays"}
      </h2>
      <p className={cx("sub")}>Transition{view.chart?.places[id] ? `, number ${view.chart.places[id]} of its state` : ""}</p>
      <div className={cx("row")}>
        <label>From</label>
        <Select
          size="small"
          showSearch
          aria-label="From"
          optionFilterProp="label"
          value={t.from}
          options={states}
          onChange={(from) => change({ from })}
        />
      </div>
      <div className={cx("row")}>
        <label>To</label>
        <Select
          size="small"
          showSearch
          optionFilterProp="label"
          aria-label="To"
          value={t.to ?? ""}
          options={[{ value: "", label: "stays in its state" }, ...states]}
          onChange={(to: string) => change({ to: to === "" ? undefined : to })}
        />
      </div>
      <div className={cx("row")}>
        <label>On the event</label>
        <Select
          size="small"
          aria-label="On the event"
          value={t.event ?? ""}
          options={[
            { value: "", label: "none: on its guard alone" },
            { value: "done", label: "done: its final state is reached" },
            ...events.map((e) => ({ value: e.name, label: e.name })),
          ]}
          onChange={text("event")}
        />
      </div>
      <div className={cx("block")}>
        <label>Guard</label>
        <TextBlock label="Guard" value={t.guard ?? ""} placeholder="such as distance < r_hold" commit={text("guard")} />
      </div>
      {TIMES.map(({ key, label, hint }) => (
        <div key={key} className={cx("row")}>
          <label>{label}</label>
          <TextField label={label} value={t[key] ?? ""} placeholder={hint} commit={text(key)} onEmpty={() => text(key)("")} />
        </div>
      ))}
      <div className={cx("block")}>
        <label>Action</label>
        <TextBlock
          label="Action"
          value={t.action ?? ""}
          placeholder="such as count := count + 1"
          commit={(action) => change({ action: action === "" ? undefined : action })}
        />
      </div>
      <div className={cx("row")}>
        <label>Local: the state around is not left</label>
        <Switch size="small" aria-label="Local" checked={t.isLocal} onChange={(isLocal) => change({ isLocal })} />
      </div>
      <div className={cx("buttons")}>
        <Button size="small" onClick={() => reorder(id, -1)}>
          Earlier
        </Button>
        <Button size="small" onClick={() => reorder(id, 1)}>
          Later
        </Button>
        {t.bends.length > 0 && (
          <Button size="small" onClick={() => setTransition(id, "Straighten", { bends: [] })}>
            Straighten
          </Button>
        )}
        <Button size="small" aria-pressed={stops.has(stopKey(level, id))} onClick={() => toggleStop(id)}>
          {stops.has(stopKey(level, id)) ? "Do not pause here" : "Pause here"}
        </Button>
        <Button size="small" onClick={removeChosen}>
          Delete
        </Button>
      </div>
    </>
  );
}
