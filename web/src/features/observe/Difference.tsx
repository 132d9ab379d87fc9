import classNames from "classnames/bind";
import { Button } from "antd";
import { useEffect, useMemo, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type Schemas } from "../../api/client";
import { fetchTraces, type Series } from "../../api/traces";
import { Plot } from "../../plots/Plot";
import { useBench } from "../../state/bench";
import { addTile, freshCurve, plotSignal } from "../../state/plotSheets";
import { newId } from "../../state/document";
import { setTime } from "../../state/runs";
import { format } from "../../ui/format";
import { tokens } from "../../ui/tokens";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

const LISTED = 10;

/** Why the present run differs from the one it is compared with. */
export function Difference() {
  const { run, reference, runs } = useBench(
    useShallow((s) => ({ run: s.run && s.run.state !== "running" ? s.run.id : null, reference: s.reference, runs: s.runs })),
  );
  const [found, setFound] = useState<Schemas["RunDifference"] | null>(null);
  const [problem, setProblem] = useState("");
  const [chosen, setChosen] = useState<string | null>(null);
  const [all, setAll] = useState(false);
  useEffect(() => {
    setFound(null);
    setProblem("");
    if (!run || !reference || run === reference) return;
    let wanted = true;
    ask(api.GET("/api/runs/{id}/difference", { params: { path: { id: run }, query: { with: reference } } })).then(
      (d) => wanted && setFound(d),
      (e: Error) => wanted && setProblem(e.message),
    );
    return () => {
      wanted = false;
    };
  }, [run, reference]);
  const numberOf = (id: string | null) => runs.find((r) => r.id === id)?.number ?? "–";
  if (!reference) return <p className={cx("difference-hint")}>Choose a run at the right to see why the present one differs from it.</p>;
  if (problem) return <p className={cx("problem")}>{problem}</p>;
  if (!found) return <p className={cx("difference-hint")}>Comparing…</p>;
  const signals = all ? found.signals : found.signals.slice(0, LISTED);
  const shown = found.signals.find((s) => s.signal.reference === chosen) ?? found.signals[0];
  return (
    <section className={cx("difference")} aria-label="Why do they differ?">
      <h2>
        Why do {numberOf(run)} and {numberOf(reference)} differ?
      </h2>
      <p className="quiet">{found.summary}</p>
      {found.document.map((level) =>
        level.differences.slice(0, 12).map((d, i) => (
          <div key={`${level.name}${d.name}${i}`} className={cx("change")}>
            <span className="quiet">
              {level.name ? `${level.name} ▸ ` : ""}
              {d.name}
              {d.fields.length === 0 ? ` (${d.change})` : ""}
            </span>
            {d.fields.slice(0, 4).map((f) => (
              <div key={f.field}>
                {f.field}
                <span className="mono">
                  {f.left ?? "–"} → <b>{f.right ?? "–"}</b>
                </span>
              </div>
            ))}
          </div>
        )),
      )}
      {found.settings.map((s) => (
        <div key={s.name + s.before + s.now} className={cx("change")}>
          <div>
            {s.name}
            <span className="mono">
              {s.before} → <b>{s.now}</b>
            </span>
          </div>
        </div>
      ))}
      {found.signals.length > 0 && (
        <>
          <div className={cx("ranking-head")}>
            <span>largest, % of range</span>
            <span>part at, s</span>
          </div>
          <ol className={cx("ranking")}>
            {signals.map((s) => (
              <li key={s.signal.reference}>
                <Button
                  type="text"
                  size="small"
                  aria-pressed={s === shown}
                  className={cx("ranked", { on: s === shown, first: s.signal.reference === found.first?.signal.reference })}
                  onClick={() => {
                    setChosen(s.signal.reference);
                    if (s.parts !== null) setTime(Number(s.parts));
                  }}
                >
                  <i style={{ width: `${Math.min(100, 100 * Number(s.share))}%` }} />
                  <span>{s.signal.label}</span>
                  <span className="mono">{format(100 * Number(s.share), 3)}</span>
                  <span className="mono">{s.parts === null ? "–" : format(Number(s.parts), 5)}</span>
                </Button>
              </li>
            ))}
          </ol>
          {found.signals.length > signals.length && (
            <Button type="link" size="small" onClick={() => setAll(true)}>
              {found.signals.length - signals.length} more
            </Button>
          )}
          {found.first && found.first.parts !== null && (
            <p className="quiet">
              {found.first.signal.label} parts first, at {format(Number(found.first.parts), 5)} s.
            </p>
          )}
          {shown && run && (
            <Apart signal={shown.signal} run={run} reference={reference} title={`${numberOf(run)} − ${numberOf(reference)}`} />
          )}
        </>
      )}
    </section>
  );
}

/** The difference of one signal over time. */
function Apart({ signal, run, reference, title }: { signal: Schemas["SignalView"]; run: string; reference: string; title: string }) {
  const [curve, setCurve] = useState<Series | null>(null);
  const { time, end } = useBench(useShallow((s) => ({ time: s.time, end: Number(s.run?.end ?? 1) })));
  useEffect(() => {
    let wanted = true;
    fetchTraces(run, [signal.reference], null, null, 300, reference).then(
      (c) => wanted && setCurve(c.get(signal.reference) ?? null),
      () => wanted && setCurve(null),
    );
    return () => {
      wanted = false;
    };
  }, [run, reference, signal.reference]);
  const lines = useMemo(
    () => (curve ? [{ x: curve.times, y: curve.values, color: tokens.ink, scale: Number(signal.scale) }] : []),
    [curve, signal.scale],
  );
  const id = newId("c");
  return (
    <>
      <div className={cx("apart-head")}>
        <b>
          {signal.label}, {title}
        </b>
        <Button type="link" size="small" onClick={() => plotSignal(signal.reference)}>
          Plot it
        </Button>
        <Button
          type="link"
          size="small"
          onClick={() => addTile("strips", [], { height: 5, curves: { [id]: freshCurve(signal.reference, { difference: true }) } })}
        >
          Add to the sheet
        </Button>
      </div>
      <div className={cx("apart")}>
        <Plot
          label={`Difference of ${signal.label}`}
          lines={lines}
          rules={[{ from: 0, to: end, value: 0, color: tokens.dashes }]}
          x={[0, end]}
          unit={signal.unit}
          xUnit="s"
          showX
          cursor={time}
          onCursor={setTime}
        />
      </div>
    </>
  );
}
