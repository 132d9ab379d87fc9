import classNames from "classnames/bind";
import { Button } from "antd";
import { useMemo, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { valueAt } from "../../api/traces";
import { format } from "../../ui/format";
import { probesOf } from "../../state/document";
import { stopPlotting } from "../../state/edits";
import { isStale, useBench } from "../../state/bench";
import { goToRange, setFollows } from "../../state/observe";
import { setTime, startRun } from "../../state/runs";
import { memberDash, signalColor, signalDash } from "../../plots/colors";
import { limitRules } from "../../plots/limitRules";
import { Plot, type Line } from "../../plots/Plot";
import { SetBar } from "./SetBar";
import { SetTable } from "./SetTable";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

const zoom = ([from, to]: [number, number]) => goToRange({ from, to });
const fit = () => goToRange(null);

/** Strips of plotted signals over one time axis, with the last run as a ghost and limit lines. */
export function Strips() {
  const { plotted, range, end, hasGhost, onTarget, follows, canRun, staleOf } = useBench(
    useShallow((s) => ({
      // As a text it is the same until something else is plotted.
      plotted: probesOf(s.model)
        .map((p) => `${p.strip} ${p.reference}`)
        .join("\n"),
      range: s.range,
      end: s.run ? s.run.end : null,
      onTarget: Boolean(s.run?.target),
      hasGhost: s.ghost !== null && s.ghostTraces.size > 0,
      follows: s.follows,
      canRun: s.view.canRun,
      staleOf: isStale(s) ? (s.run?.revision ?? null) : null,
    })),
  );
  const x = useMemo<[number, number]>(() => (range ? [range.from, range.to] : [0, end ?? 1]), [range, end]);
  const strips = useMemo(() => {
    const byStrip = new Map<string, Plotted[]>();
    for (const [position, line] of plotted.split("\n").filter(Boolean).entries()) {
      const [strip, reference] = line.split(/ (.*)/s) as [string, string];
      byStrip.set(strip, [...(byStrip.get(strip) ?? []), { reference, position }]);
    }
    return [...byStrip.values()];
  }, [plotted]);

  const [shows, setShows] = useState<"curves" | "table">("curves");
  const isSet = useBench((s) => s.set !== null);
  if (end === null && !isSet)
    return <div className={cx("empty")}>No run yet. {canRun ? "Press run." : "The model has findings to mend first."}</div>;
  if (strips.length === 0)
    return <div className={cx("empty")}>Nothing is plotted yet. Select a wire and press “Plot”, or place a Probe on it.</div>;

  return (
    <div className={cx("strips")} aria-label="Traces">
      <SetBar shows={shows} onShow={setShows} />
      {isSet && shows === "table" && <SetTable />}
      {(isSet && shows === "table" ? [] : strips).map((signals, i) => (
        <Strip key={signals[0]?.reference} signals={signals} x={x} showX={i === strips.length - 1}>
          {i === 0 && staleOf !== null && (
            <span className={cx("stale")} role="status">
              of r{staleOf}: the model has changed since{canRun ? "" : " and cannot run"}
              {canRun && (
                <Button size="small" type="link" onClick={() => void startRun()}>
                  Run
                </Button>
              )}
            </span>
          )}
          {i === 0 && !isSet && hasGhost && staleOf === null && (
            <span className={cx("quiet", "ghost")}>
              pale: {onTarget ? "the model alone" : "before this edit"}
              <Button size="small" type="link" onClick={() => setFollows(false)}>
                Hide
              </Button>
            </span>
          )}
          {i === 0 && !isSet && !follows && (
            <Button size="small" type="link" onClick={() => setFollows(true)}>
              Show the run before
            </Button>
          )}
          {i === 0 && range && (
            <Button size="small" type="link" onClick={fit}>
              Fit
            </Button>
          )}
        </Strip>
      ))}
    </div>
  );
}

interface Plotted {
  reference: string;
  /** Its place among all that is plotted, which gives it its colour. */
  position: number;
}

/** Signals over one axis. An edit that changes nothing of what is shown here draws nothing. */
function Strip({
  signals,
  x,
  showX,
  children,
}: {
  signals: readonly Plotted[];
  x: [number, number];
  showX: boolean;
  children: React.ReactNode;
}) {
  const keys = useMemo(() => signals.map((s) => s.reference), [signals]);
  const { infos, traces, ghost, time, verdicts, set, setTraces, hidden } = useBench(
    useShallow((s) => ({
      infos: s.view.plotted,
      traces: s.traces,
      ghost: s.ghostTraces,
      time: s.time,
      verdicts: s.run?.verdicts,
      set: s.set,
      setTraces: s.setTraces,
      hidden: s.hidden,
    })),
  );
  const lines = useMemo(() => {
    const result: Line[] = [];
    // Side by side a colour is a run, and signals of one strip are told apart by their dashes.
    for (const [i, member] of (set?.members ?? []).entries())
      for (const [k, { reference: key }] of signals.entries()) {
        const curve = member.run && !hidden.has(member.label) ? setTraces.get(member.run)?.get(key) : undefined;
        const { scale = 1, shift = 0 } = infos[key] ?? {};
        if (curve) result.push({ x: curve.times, y: curve.values, color: signalColor(i), dash: memberDash(k), scale, shift });
      }
    if (set) return result;
    for (const { reference: key, position } of signals) {
      const scale = infos[key]?.scale ?? 1;
      const shift = infos[key]?.shift ?? 0;
      const color = signalColor(position);
      const dash = signalDash(position);
      const old = ghost.get(key);
      const now = traces.get(key);
      if (old) result.push({ x: old.times, y: old.values, color, dash, opacity: 0.33, scale, shift, width: 1.3, aside: true });
      if (now) result.push({ x: now.times, y: now.values, color, dash, scale, shift });
    }
    return result;
  }, [signals, infos, traces, ghost, set, setTraces, hidden]);
  const rules = useMemo(
    () =>
      keys.flatMap((key) => {
        const info = infos[key];
        return limitRules(verdicts ?? [], info?.recorded ?? "", (v) => v * (info?.scale ?? 1) + (info?.shift ?? 0));
      }),
    [keys, infos, verdicts],
  );

  return (
    <div className={cx("strip")} style={{ flexGrow: keys.length > 1 ? 1.3 : 1 }}>
      <div className={cx("legends")}>
        {signals.map(({ reference: key, position }) => {
          const info = infos[key];
          const series = traces.get(key);
          const at = series && time !== null ? valueAt(series, time) : NaN;
          return (
            <span key={key} className={cx("legend")} title={info?.path ?? key}>
              {set ? (
                <i className={cx("dash")} data-dash={signals.findIndex((s) => s.reference === key)} />
              ) : (
                <i style={{ background: signalColor(position) }} />
              )}
              {info?.label ?? key}
              {time !== null && (
                <b className="mono" data-signal-value={info?.label ?? key}>
                  {format(at * (info?.scale ?? 1) + (info?.shift ?? 0))} {info?.unit}
                </b>
              )}
              <Button
                type="text"
                size="small"
                className={cx("drop")}
                aria-label={`Stop plotting ${info?.label ?? key}`}
                onClick={() => stopPlotting(key)}
              >
                ×
              </Button>
            </span>
          );
        })}
        {children}
      </div>
      <Plot
        label={`${keys.map((k) => infos[k]?.label ?? k).join(", ")} over time`}
        lines={lines}
        rules={rules}
        x={x}
        unit={infos[keys[0] as string]?.unit ?? ""}
        xUnit="s"
        showX={showX}
        cursor={time}
        onCursor={setTime}
        onZoom={zoom}
        onFit={fit}
      />
    </div>
  );
}
