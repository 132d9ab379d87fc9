import classNames from "classnames/bind";
import { Button, Input, Select } from "antd";
import { useEffect, useMemo, useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Schemas } from "../../api/client";
import type { Series } from "../../api/traces";
import { notifyError, useBench } from "../../state/bench";
import { plotSignal, shownSheet } from "../../state/plotSheets";
import { findSignals, infoOf, recentSignals } from "../../state/signals";
import { useSmallCurves } from "../../state/useSmallCurves";
import { format } from "../../ui/format";
import { signalColor } from "../../plots/colors";
import { SmallCurve } from "../../plots/SmallCurve";
import { valueAt } from "../../api/traces";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

/** Signals that are listed at once. */
const LISTED = 60;

const kindNames: Record<string, string> = {
  state: "states",
  rate: "rates of change",
  signal: "signals",
  Boolean: "Booleans",
  discrete: "sampled",
};

interface Found {
  key: string;
  total: number;
  matching: number;
  signals: readonly Schemas["SignalEntry"][];
  units: readonly string[];
}

/** Finds any quantity of the model, by name, part, unit or kind, and plots it. */
export function SignalPane() {
  const { revision, level } = useBench(useShallow((s) => ({ revision: s.view.resultsRevision, level: s.level })));
  const text = useBench((s) => s.search);
  const setText = (search: string) => useBench.setState({ search });
  const [unit, setUnit] = useState<string | null>(null);
  const [kind, setKind] = useState<string | null>(null);
  const [here, setHere] = useState(false);
  const [limit, setLimit] = useState(LISTED);
  const [found, setFound] = useState<Found | null>(null);
  const [chosen, setChosen] = useState(0);
  const key = JSON.stringify([text, unit, kind, here ? level : "", revision, limit]);
  useEffect(() => {
    let wanted = true;
    const query = { search: text, limit, ...(unit ? { unit } : {}), ...(kind ? { kind } : {}), ...(here && level ? { part: level } : {}) };
    void findSignals(query).then(
      (f) => wanted && setFound({ key, total: Number(f.total), matching: Number(f.matching), signals: f.signals, units: f.units }),
      (e: Error) => wanted && notifyError(e.message),
    );
    return () => {
      wanted = false;
    };
  }, [key]); // eslint-disable-line react-hooks/exhaustive-deps
  useEffect(() => setChosen(0), [text, unit, kind, here]);
  const signals = useMemo(() => found?.signals ?? [], [found]);
  const groups = useMemo(() => {
    const byPart = new Map<string, Schemas["SignalEntry"][]>();
    for (const s of signals) byPart.set(s.part, [...(byPart.get(s.part) ?? []), s]);
    return [...byPart];
  }, [signals]);
  const order = useMemo(() => groups.flatMap(([, members]) => members), [groups]);
  const curves = useSmallCurves(useMemo(() => [...signals.map((s) => s.reference), ...(text ? [] : recentSignals())], [signals, text]));
  const list = useRef<HTMLDivElement>(null);
  const choose = (next: number) => {
    const to = Math.min(order.length - 1, Math.max(0, next));
    setChosen(to);
    list.current?.querySelector(`[data-place="${to}"]`)?.scrollIntoView({ block: "nearest" });
  };
  const recent = text || unit || kind ? [] : recentSignals();
  return (
    <aside className={cx("finder")} aria-label="Signals">
      <div className={cx("finder-head")}>
        <b>Signals</b>
        <span className="quiet" role="status">
          {found ? `${found.matching} of ${found.total}` : ""}
        </span>
      </div>
      <Input
        size="small"
        allowClear
        placeholder="Name, part, unit"
        aria-label="Search signals"
        value={text}
        onChange={(e) => (setText(e.target.value), setLimit(LISTED))}
        onKeyDown={(e) => {
          if (e.key === "ArrowDown") choose(chosen + 1);
          else if (e.key === "ArrowUp") choose(chosen - 1);
          else if (e.key === "Enter" && order[chosen]) plotSignal((order[chosen] as Schemas["SignalEntry"]).reference);
          else if (e.key === "Escape") setText("");
          else return;
          e.preventDefault();
        }}
      />
      <div className={cx("filters")}>
        <Select
          size="small"
          aria-label="Only of this unit"
          value={unit}
          onChange={setUnit}
          options={[{ value: null, label: "any unit" }, ...(found?.units ?? []).map((u) => ({ value: u, label: u }))]}
          popupMatchSelectWidth={false}
        />
        <Select
          size="small"
          aria-label="Only of this kind"
          value={kind}
          onChange={setKind}
          options={[{ value: null, label: "any kind" }, ...Object.entries(kindNames).map(([value, label]) => ({ value, label }))]}
          popupMatchSelectWidth={false}
        />
        {level !== "" && (
          <Button size="small" aria-pressed={here} className={cx({ pressed: here })} onClick={() => setHere(!here)}>
            this level
          </Button>
        )}
      </div>
      <div className={cx("found")} ref={list}>
        {recent.length > 0 && (
          <section>
            <h2>Recently used</h2>
            {recent.slice(0, 6).map((r) => (
              <SignalRow key={r} reference={r} curve={curves.get(r)} text="" />
            ))}
          </section>
        )}
        {groups.map(([part, members]) => (
          <section key={part}>
            <h2>{part ? part.split(".").join(" ▸ ") : "Model"}</h2>
            {members.map((s) => (
              <SignalRow
                key={s.reference + s.path}
                reference={s.reference}
                entry={s}
                curve={curves.get(s.reference)}
                text={text}
                place={order.indexOf(s)}
                chosen={text !== "" && order[chosen] === s}
              />
            ))}
          </section>
        ))}
        {found && found.matching > signals.length && (
          <Button type="link" size="small" onClick={() => setLimit(limit + 200)}>
            {found.matching - signals.length} more
          </Button>
        )}
        {found?.matching === 0 && <p className="quiet">No signal answers to this.</p>}
        <p className={cx("finder-hint")}>Enter plots the first in a strip of its own; drag one onto a strip to join it.</p>
      </div>
    </aside>
  );
}

interface RowProps {
  reference: string;
  entry?: Schemas["SignalEntry"];
  curve: Series | undefined;
  text: string;
  place?: number;
  chosen?: boolean;
}

function SignalRow({ reference, entry, curve, text, place, chosen = false }: RowProps) {
  const { infos, model, sheet, time } = useBench(useShallow((s) => ({ infos: s.infos, model: s.model, sheet: s.sheet, time: s.time })));
  const info = infoOf(infos, reference);
  const plotted = useMemo(() => {
    const [, node] = shownSheet({ model, sheet });
    for (const tile of Object.values(node.tiles)) {
      const at = Object.values(tile.curves).findIndex((c) => c.signal === reference);
      if (at >= 0) return signalColor(Object.values(tile.curves)[at]?.color ?? at);
    }
    return null;
  }, [model, sheet, reference]);
  const label = entry?.label ?? info?.view.label ?? reference;
  const value =
    curve && curve.times.length > 0
      ? valueAt(curve, time ?? Infinity) * Number(info?.view.scale ?? 1) + Number(info?.view.shift ?? 0)
      : NaN;
  return (
    <Button
      type="text"
      className={cx("found-signal", { chosen })}
      data-place={place}
      draggable
      title={[entry?.path ?? reference, entry?.description].filter(Boolean).join("\n")}
      onDragStart={(e) => e.dataTransfer.setData("text/signal", reference)}
      onClick={() => plotSignal(reference)}
    >
      <span className={cx("found-name")}>
        <Marked text={label} word={text} part={entry?.part ?? ""} />
        <small className="mono">
          {Number.isFinite(value) ? format(value) : "–"} {info?.view.unit ?? entry?.unit}
        </small>
      </span>
      <SmallCurve curve={curve} color={plotted} className={cx("small")} />
      {plotted ? <i className={cx("dot")} style={{ background: plotted }} /> : <span className="quiet">+</span>}
    </Button>
  );
}

/** A name with what was searched for underlined; who hears it is told what a press does. */
function Marked({ text, word, part }: { text: string; word: string; part: string }) {
  const first = word.trim().split(" ")[0] ?? "";
  const at = first ? text.toLowerCase().indexOf(first.toLowerCase()) : -1;
  return (
    <span>
      <span className="unseen">Plot </span>
      {at < 0 ? (
        text
      ) : (
        <>
          {text.slice(0, at)}
          <mark>{text.slice(at, at + first.length)}</mark>
          {text.slice(at + first.length)}
        </>
      )}
      {part && <span className="unseen"> of {part}</span>}
    </span>
  );
}
