import { Button } from "antd";
import { useMemo } from "react";
import { useShallow } from "zustand/react/shallow";
import { valueAt } from "../api/traces";
import { format } from "../bench/format";
import { toggleProbe } from "../state/edits";
import { probedSignals, setRange, setTime, useBench } from "../state/store";
import { signalColor, signalDash } from "./colors";
import { Plot, type Line, type Rule } from "./Plot";

const MISSED = "#B3261E";
const MET = "#2E7D5B";

/** Strips of plotted signals over one time axis, with the last run as a ghost and limit lines. */
export function Strips() {
  const { document, view, traces, ghost, range, time, run } = useBench(
    useShallow((s) => ({ document: s.document, view: s.view, traces: s.traces, ghost: s.ghost, range: s.range, time: s.time, run: s.run })),
  );
  const end = run ? Number(run.end) : 1;
  const x: [number, number] = range ? [range.from, range.to] : [0, end];

  const strips = useMemo(() => {
    const byStrip = new Map<number, string[]>();
    for (const key of probedSignals()) {
      const strip = document.signals[key]?.probe as number;
      byStrip.set(strip, [...(byStrip.get(strip) ?? []), key]);
    }
    return [...byStrip].sort((a, b) => a[0] - b[0]).map(([, keys]) => keys);
    // probedSignals reads the present document.
  }, [document.signals]);

  if (!run) return <div className="strips-empty">No run yet. {view.canRun ? "Press run." : "The model has findings to mend first."}</div>;
  if (strips.length === 0)
    return <div className="strips-empty">Nothing is plotted yet. Select a wire and press “Plot”, or place a Probe on it.</div>;

  return (
    <div className="strips" aria-label="Traces">
      {strips.map((keys, i) => {
        const first = keys[0] as string;
        const unit = view.signals[first]?.unit ?? "";
        const lines: Line[] = [];
        const rules: Rule[] = [];
        for (const key of keys) {
          const info = view.signals[key];
          const scale = Number(info?.scale ?? 1);
          const shift = Number(info?.shift ?? 0);
          const color = signalColor(document, key);
          const dash = signalDash(document, key);
          const old = ghost.get(key);
          const now = traces.get(key);
          if (old) lines.push({ x: old.times, y: old.values, color, dash, opacity: 0.33, scale, shift, width: 1.3 });
          if (now) lines.push({ x: now.times, y: now.values, color, dash, scale, shift });
          for (const v of run?.verdicts ?? []) {
            const r = document.requirements[v.id];
            if (!r || (r.signal !== info?.label && r.signal !== info?.path)) continue;
            for (const l of v.lines ?? [])
              rules.push({
                from: Number(l.from),
                to: Number(l.to),
                value: Number(l.value) * scale + shift,
                color: v.kind === "missed" ? MISSED : MET,
              });
          }
        }
        // What is missed must not be hidden under what is met.
        rules.sort((a, b) => (a.color === b.color ? 0 : a.color === MISSED ? 1 : -1));
        const last = i === strips.length - 1;
        return (
          <div className="strip" key={first} style={{ flexGrow: keys.length > 1 ? 1.3 : 1 }}>
            <div className="strip-legend">
              {keys.map((key) => {
                const info = view.signals[key];
                const series = traces.get(key);
                const at = series && time !== null ? valueAt(series, time) : NaN;
                return (
                  <button
                    key={key}
                    className="legend"
                    title={`${info?.path ?? key}: stop plotting`}
                    aria-label={`Stop plotting ${info?.label ?? key}`}
                    onClick={() => toggleProbe(key)}
                  >
                    <i style={{ background: signalColor(document, key) }} />
                    {info?.label ?? key}
                    {time !== null && (
                      <b className="mono" data-signal-value={info?.label ?? key}>
                        {format(at * Number(info?.scale ?? 1) + Number(info?.shift ?? 0))} {info?.unit}
                      </b>
                    )}
                  </button>
                );
              })}
              {i === 0 && ghost.size > 0 && <span className="quiet ghost-note">pale: before this edit</span>}
              {i === 0 && range && (
                <Button size="small" type="link" onClick={() => setRange(null)}>
                  Fit
                </Button>
              )}
            </div>
            <Plot
              label={`${keys.map((k) => view.signals[k]?.label ?? k).join(", ")} over time`}
              lines={lines}
              rules={rules}
              x={x}
              unit={unit}
              xUnit="s"
              showX={last}
              cursor={time}
              onCursor={setTime}
              onZoom={([from, to]) => setRange({ from, to })}
              onFit={() => setRange(null)}
            />
          </div>
        );
      })}
    </div>
  );
}
