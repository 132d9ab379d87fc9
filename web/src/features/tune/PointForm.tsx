import classNames from "classnames/bind";
import { Button, Input, InputNumber, Segmented, Select } from "antd";
import type { ReactNode } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { findSignals } from "../../state/signals";
import { useTune, whereOf } from "../../state/tune";
import { format } from "../../ui/format";
import { SignalSelect } from "../../ui/SignalSelect";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

type Relation = "is" | "least" | "most" | "between";

/** What is asked of an operating point, as typed. */
export interface PointAsk {
  kind: "rest" | "instant";
  /** Instant in s whose values sources have; empty for the start of runs. */
  at: string;
  fixed: readonly { signal: string; relation: Relation; value: string; high: string }[];
  free: readonly { parameter: string; low: string; high: string }[];
  set: readonly { parameter: string; value: string }[];
  moving: readonly string[];
  /** The quantity over which many are found; null for one point. */
  series: { over: string; from: string; to: string; count: number } | null;
}

export const emptyAsk: PointAsk = { kind: "rest", at: "", fixed: [], free: [], set: [], moving: [], series: null };

/** The request for one point. */
export function requestOf(wish: PointAsk): Schemas["SteadyRequest"] {
  return {
    point: whereOf(useTune.getState()).point,
    at: wish.at.trim() === "" ? null : Number(wish.at),
    isInstant: wish.kind === "instant",
    fixed: wish.fixed
      .filter((f) => f.signal)
      .map((f) => ({
        signal: f.signal,
        value: f.relation === "is" ? f.value : null,
        low: f.relation === "least" || f.relation === "between" ? f.value : null,
        high: f.relation === "most" ? f.value : f.relation === "between" ? f.high : null,
      })),
    free: wish.free.filter((f) => f.parameter).map((f) => ({ parameter: f.parameter, low: f.low || null, high: f.high || null })),
    moving: wish.moving.filter((m) => m !== ""),
    set: wish.set.filter((s) => s.parameter && s.value).map((s) => ({ ...s })),
  };
}

/** What was asked of a saved point, to ask again. */
export function askOf(point: Schemas["OperatingPointNode"]): PointAsk {
  const found = new Set(point.free.map((f) => f.target));
  return {
    kind: point.rests ? "rest" : "instant",
    at: Number(point.at) > 0 ? String(point.at) : "",
    fixed: point.fixed.map((f) => ({
      signal: f.target,
      relation: f.value != null ? "is" : f.low == null ? "most" : f.high == null ? "least" : "between",
      value: f.value ?? f.low ?? f.high ?? "",
      high: f.high ?? "",
    })),
    free: point.free.map((f) => ({ parameter: f.target, low: f.low ?? "", high: f.high ?? "" })),
    set: point.parameters.filter((p) => !found.has(p.target)).map((p) => ({ parameter: p.target, value: p.value })),
    moving: point.moving,
    series: null,
  };
}

const relations = [
  { value: "is", label: "is" },
  { value: "least", label: "at least" },
  { value: "most", label: "at most" },
  { value: "between", label: "between" },
];

interface Props {
  wish: PointAsk;
  change: (wish: PointAsk) => void;
  search: () => void;
  busy: boolean;
}

/** What the operating point is to be: at rest or an instant, fixed and bounded signals, free and set parameters, states that move. */
export function PointForm({ wish, change, search, busy }: Props) {
  const { time } = useBench(useShallow((s) => ({ time: s.time })));
  const rests = wish.kind === "rest";
  const put = (part: Partial<PointAsk>) => change({ ...wish, ...part });
  const signal = (label: string, value: string, take: (v: string) => void) => (
    <SignalSelect
      find={findSignals}
      label={label}
      placeholder="signal"
      value={value ? { signal: value, label: value } : null}
      onChange={take}
      className={cx("signal")}
    />
  );
  return (
    <form
      className={cx("point-form")}
      aria-label="Operating point"
      onSubmit={(e) => {
        e.preventDefault();
        search();
      }}
    >
      <div className={cx("point-kind")}>
        <Segmented
          size="small"
          value={wish.kind}
          options={[
            { value: "rest", label: "At rest" },
            { value: "instant", label: "As a run has it" },
          ]}
          onChange={(v) => put({ kind: v as PointAsk["kind"] })}
        />
        <label>
          {rests ? "sources as at" : "at"}{" "}
          <Input
            size="small"
            aria-label="Instant in s"
            placeholder={time === null ? "the start" : `the start, or ${format(time)}`}
            value={wish.at}
            onChange={(e) => put({ at: e.target.value })}
          />{" "}
          s
        </label>
      </div>
      {rests && (
        <Rows
          title="and with these values"
          add="Fix a signal"
          rows={wish.fixed}
          change={(fixed) => put({ fixed })}
          none={{ signal: "", relation: "is" as Relation, value: "", high: "" }}
          named={(i) => `fixed signal ${i}`}
        >
          {(f, i, set) => (
            <>
              {signal(`Fixed signal ${i}`, f.signal, (v) => set({ signal: v }))}
              <Select
                size="small"
                aria-label={`How signal ${i} is fixed`}
                value={f.relation}
                options={relations}
                onChange={(relation: Relation) => set({ relation })}
                popupMatchSelectWidth={false}
              />
              <Text label={`Value of fixed signal ${i}`} hint="as in 20 m" value={f.value} put={(value) => set({ value })} />
              {f.relation === "between" && (
                <Text label={`Highest value of signal ${i}`} hint="and" value={f.high} put={(high) => set({ high })} />
              )}
            </>
          )}
        </Rows>
      )}
      {rests && (
        <Rows
          title="for which these parameters may change"
          add="Free a parameter"
          rows={wish.free}
          change={(free) => put({ free })}
          none={{ parameter: "", low: "", high: "" }}
          named={(i) => `free parameter ${i}`}
        >
          {(f, i, set) => (
            <>
              <Text
                label={`Free parameter ${i}`}
                hint="path, as in Tank.area"
                value={f.parameter}
                put={(parameter) => set({ parameter })}
              />
              <Text label={`Lowest value of free parameter ${i}`} hint="at least" value={f.low} put={(low) => set({ low })} />
              <Text label={`Highest value of free parameter ${i}`} hint="at most" value={f.high} put={(high) => set({ high })} />
            </>
          )}
        </Rows>
      )}
      <Rows
        title="with other values than the model’s"
        add="Set a parameter"
        rows={wish.set}
        change={(set) => put({ set })}
        none={{ parameter: "", value: "" }}
        named={(i) => `set parameter ${i}`}
      >
        {(s, i, set) => (
          <>
            <Text label={`Set parameter ${i}`} hint="path, as in Tank.area" value={s.parameter} put={(parameter) => set({ parameter })} />
            <Text label={`Value of set parameter ${i}`} hint="as in 3 m²" value={s.value} put={(value) => set({ value })} />
          </>
        )}
      </Rows>
      {rests && (
        <Rows
          title="and states that move all the same"
          add="Let a state move"
          rows={wish.moving.map((state) => ({ state }))}
          change={(moving) => put({ moving: moving.map((m) => m.state) })}
          none={{ state: "" }}
          named={(i) => `moving state ${i}`}
        >
          {(m, i, set) => signal(`Moving state ${i}`, m.state, (state) => set({ state }))}
        </Rows>
      )}
      <Series wish={wish} put={put} />
      <Button size="small" type="primary" htmlType="submit" loading={busy}>
        {wish.series ? "Find the points" : rests ? "Find the state at rest" : "Take the state"}
      </Button>
    </form>
  );
}

function Text({ label, hint, value, put }: { label: string; hint: string; value: string; put: (v: string) => void }) {
  return <Input size="small" aria-label={label} placeholder={hint} value={value} onChange={(e) => put(e.target.value)} />;
}

interface RowsProps<T> {
  title: string;
  add: string;
  rows: readonly T[];
  none: T;
  change: (rows: readonly T[]) => void;
  named: (number: number) => string;
  children: (row: T, number: number, set: (part: Partial<T>) => void) => ReactNode;
}

/** Rows of one kind, with a way to add one and to take one away. */
function Rows<T>({ title, add, rows, none, change, named, children }: RowsProps<T>) {
  return (
    <section>
      {rows.length > 0 && <h3 className={cx("section")}>{title}</h3>}
      {rows.map((row, i) => (
        <div key={i} className={cx("point-row")}>
          {children(row, i + 1, (part) => change(rows.map((r, k) => (k === i ? { ...r, ...part } : r))))}
          <Button type="text" size="small" aria-label={`Take away ${named(i + 1)}`} onClick={() => change(rows.filter((_, k) => k !== i))}>
            ×
          </Button>
        </div>
      ))}
      <Button type="link" size="small" onClick={() => change([...rows, none])}>
        {add}
      </Button>
    </section>
  );
}

/** Many points over a parameter, a fixed signal, or the instants of a run. */
function Series({ wish, put }: { wish: PointAsk; put: (part: Partial<PointAsk>) => void }) {
  const { series } = wish;
  if (!series)
    return (
      <section>
        <Button type="link" size="small" onClick={() => put({ series: { over: "", from: "", to: "", count: 5 } })}>
          Many, over a quantity
        </Button>
      </section>
    );
  const set = (part: Partial<NonNullable<PointAsk["series"]>>) => put({ series: { ...series, ...part } });
  return (
    <section>
      <h3 className={cx("section")}>one for each of several values of</h3>
      <div className={cx("point-row")}>
        <Text label="Quantity of the series" hint="time, or path as in Tank.area" value={series.over} put={(over) => set({ over })} />
        <Text label="First value of the series" hint="from" value={series.from} put={(from) => set({ from })} />
        <Text label="Last value of the series" hint="to" value={series.to} put={(to) => set({ to })} />
        <InputNumber
          size="small"
          aria-label="Number of points"
          min={2}
          max={60}
          value={series.count}
          onChange={(count) => set({ count: count ?? 5 })}
        />
        <Button type="text" size="small" aria-label="Take away the series" onClick={() => put({ series: null })}>
          ×
        </Button>
      </div>
    </section>
  );
}
