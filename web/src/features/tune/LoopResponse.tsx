import classNames from "classnames/bind";
import { Button } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { DesignView } from "../../api/client";
import { fromPixel, toPixel, type Scale } from "../../plots/scale";
import { ticks } from "../../plots/ticks";
import { APPLIED, drawLoop, HAND, useTune } from "../../state/tune";
import { format } from "../../ui/format";
import { axisTicks, Strip, valueAt, type Curve } from "./axes";
import { DrawnLoop } from "./DrawnLoop";
import { usual, type DrawnPoint } from "./drawnPoints";
import { colorOf } from "./marks";
import { useSize } from "./useSize";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

/** Round steps of a phase axis, degrees. */
const PHASE_STEPS = [15, 30, 45, 90, 180, 360, 720, 1440];

export type FrequencyUnit = "rad/s" | "Hz";

const numbers = (values: readonly (number | string)[]) => values.map(Number);

/** Gain, phase and sensitivity of the loop: the design in hand strong, the others faint, with crossings and margins. */
export function LoopResponse() {
  const { designs, frequencies, part } = useTune(useShallow((s) => ({ designs: s.designs, frequencies: s.frequencies, part: s.part })));
  const { ref, width, height } = useSize({ width: 340, height: 440 });
  const [cursor, setCursor] = useState<number | null>(null);
  const [drawn, setDrawn] = useState<{ part: string | null; points: readonly DrawnPoint[] } | null>(null);
  const shown = [...designs.values()].filter((d) => d.figures);
  const main = designs.get(HAND)?.figures ? designs.get(HAND) : designs.get(APPLIED);
  const [from, to] = [frequencies[0], frequencies.at(-1)];
  const x: Scale | null = from && to ? { from, to, start: 46, end: width - 12, logarithmic: true } : null;
  const curves = (pick: (d: DesignView) => readonly (number | string)[], thin = false): Curve[] =>
    [...shown.filter((d) => d !== main), ...(main ? [main] : [])].map((d) => ({
      name: d.name,
      x: frequencies,
      y: numbers(pick(d)),
      color: colorOf(d.name),
      width: d === main ? 2 : thin ? 1 : 1.2,
    }));
  const rest = height - 26 - 34;
  const parts = [0.38, 0.38, 0.24].map((p) => p * rest - 10);
  const top = [26, 26 + (parts[0] as number) + 15, 26 + (parts[0] as number) + (parts[1] as number) + 30];

  if (!x || !main)
    return (
      <section className={cx("loop-response")} aria-label="Loop response">
        <header className={cx("pane-head")}>
          <h2>Loop response</h2>
        </header>
        <div ref={ref} className={cx("drawn")} />
      </section>
    );

  const span = (values: number[], least: number) => {
    const [low, high] = [Math.min(...values), Math.max(...values)];
    const step = ticks(0, Math.max(high - low, least), 4)[1] ?? 20;
    return [Math.floor(low / step) * step, Math.ceil(high / step) * step] as const;
  };
  const around = shown.flatMap((d) => numbers(d.magnitude).filter((v) => v > -90 && v < 110));
  const [gLow, gHigh] = span([...around, -20, 20], 60);
  const gain: Scale = {
    from: gLow,
    to: gHigh,
    start: (top[0] as number) + (parts[0] as number),
    end: top[0] as number,
    logarithmic: false,
  };
  const own = numbers(main.phase);
  // With a dead time the phase falls without end: what lies beyond the last listed crossing is not looked at.
  const last = Math.max(...main.phaseCrossings.slice(0, 3).map((c) => Number(c.frequency)), Number(main.figures?.bandwidth ?? 0) * 3);
  const phases = own.filter((_, i) => (frequencies[i] as number) <= last);
  const lowest = Math.min(
    -200,
    ...phases,
    ...main.phaseCrossings.slice(0, 2).map((c) => (valueAt(frequencies, own, Number(c.frequency)) ?? 0) - 20),
  );
  const highest = Math.max(-80, ...phases);
  const step = PHASE_STEPS.find((s) => (highest - lowest) / s <= 5) ?? 3600;
  const phase: Scale = {
    from: Math.floor(lowest / step) * step,
    to: Math.ceil(highest / step) * step,
    start: (top[1] as number) + (parts[1] as number),
    end: top[1] as number,
    logarithmic: false,
  };
  const peak = Math.max(2, Math.min(6, 1.12 * Math.max(...shown.map((d) => Number(d.figures?.sensitivity ?? 0)))));
  const sensitivity: Scale = {
    from: 0,
    to: peak,
    start: (top[2] as number) + (parts[2] as number),
    end: top[2] as number,
    logarithmic: false,
  };
  const columns = axisTicks(x, 6);
  const phaseRows = Array.from({ length: Math.round((phase.to - phase.from) / step) + 1 }, (_, i) => phase.from + i * step);
  // What is drawn is of one loop.
  const points = drawn && drawn.part === part ? drawn.points : null;
  const toggle = () => {
    const first = points ? null : usual(Number(main.figures?.bandwidth ?? Math.sqrt(x.from * x.to)));
    setDrawn(first && { part, points: first });
    if (first) drawLoop(first);
  };
  const read =
    cursor === null
      ? null
      : {
          w: cursor,
          g: valueAt(frequencies, numbers(main.magnitude), cursor),
          p: valueAt(frequencies, own, cursor),
          s: valueAt(frequencies, numbers(main.sensitivity), cursor),
        };
  return (
    <section className={cx("loop-response")} aria-label="Loop response">
      <header className={cx("pane-head")}>
        <h2>Loop response</h2>
        <span className="quiet">
          {read
            ? `${format(read.w, 3)} rad/s · ${format(read.g ?? 0, 3)} dB · ${format(read.p ?? 0, 3)}° · |S| ${format(read.s ?? 0, 3)}`
            : points
              ? "a press adds a point"
              : "opened at its output"}
        </span>
        <Button size="small" aria-pressed={points !== null} onClick={toggle}>
          {points ? "Done" : "Draw"}
        </Button>
      </header>
      <div ref={ref} className={cx("drawn")}>
        <svg
          width={width}
          height={height}
          role="img"
          aria-label={`Gain, phase and sensitivity of the loop, ${main.name}`}
          onPointerMove={(e) => {
            const at = e.clientX - e.currentTarget.getBoundingClientRect().left;
            setCursor(at >= x.start && at <= x.end ? fromPixel(x, at) : null);
          }}
          onPointerLeave={() => setCursor(null)}
        >
          <Strip
            horizontal={x}
            vertical={gain}
            rows={ticks(gLow, gHigh, 4)}
            columns={columns}
            showColumns={false}
            curves={curves((d) => d.magnitude)}
            clip="loop-gain"
          >
            <text x={x.end - 4} y={gain.end + 14} textAnchor="end">
              gain, dB
            </text>
            <GainMarks main={main} x={x} gain={gain} phase={phase} own={own} frequencies={frequencies} />
            {points && <DrawnLoop x={x} gain={gain} points={points} put={(p) => setDrawn({ part, points: p })} />}
          </Strip>
          <Strip
            horizontal={x}
            vertical={phase}
            rows={phaseRows}
            columns={columns}
            showColumns={false}
            curves={curves((d) => d.phase)}
            clip="loop-phase"
          >
            <text x={x.start + 5} y={phase.start - 6}>
              phase, °
            </text>
          </Strip>
          <Strip
            horizontal={x}
            vertical={sensitivity}
            rows={ticks(0, peak, 2)}
            columns={columns}
            showColumns
            curves={curves((d) => d.sensitivity, true)}
            clip="loop-sensitivity"
          >
            <text x={x.start + 5} y={sensitivity.end + 12}>
              sensitivity
            </text>
            <PeakMark main={main} x={x} sensitivity={sensitivity} />
          </Strip>
          {cursor !== null && (
            <path d={`M${toPixel(x, cursor)} ${gain.end}V${sensitivity.start}`} stroke="#17324D" strokeOpacity=".35" pointerEvents="none" />
          )}
          <text x={(x.start + x.end) / 2} y={height - 3} textAnchor="middle">
            frequency, rad/s
          </text>
        </svg>
      </div>
    </section>
  );
}

interface GainMarksProps {
  main: DesignView;
  x: Scale;
  gain: Scale;
  phase: Scale;
  own: number[];
  frequencies: readonly number[];
}

/** Open rings where the gain is one and where the phase is half a turn, with arrows for the margins there. */
function GainMarks({ main, x, gain, phase, own, frequencies }: GainMarksProps) {
  const zero = toPixel(gain, 0);
  const inside = (w: number) => w >= x.from && w <= x.to;
  const label = (w: number) => toPixel(x, w) > x.end - 60;
  return (
    <g className={cx("margins")}>
      <path d={`M${x.start} ${zero}H${x.end}`} stroke="#17324D" strokeOpacity=".75" />
      {main.gainCrossings.map((c) => {
        const w = Number(c.frequency);
        const at = valueAt(frequencies, own, w);
        if (!inside(w) || at === null) return null;
        const turn = 360 * Math.round((at - Number(c.margin) + 180) / 360) - 180;
        const [px, py, line] = [toPixel(x, w), toPixel(phase, at), toPixel(phase, turn)];
        const clampedLine = Math.min(phase.start, Math.max(phase.end, line));
        return (
          <g key={w}>
            <path d={`M${px} ${zero}V${Math.max(py, clampedLine)}`} stroke="#17324D" strokeOpacity=".3" />
            <circle cx={px} cy={zero} r="4" fill="#fff" stroke="#17324D" strokeWidth="1.4" />
            <text className="n" x={px} y={zero + 16} textAnchor="middle">
              {format(w, 3)}
            </text>
            <path d={`M${px} ${clampedLine}V${py}`} stroke="#17324D" strokeWidth="1.6" />
            <circle cx={px} cy={py} r="2.6" fill="#17324D" />
            <text
              className={cx("margin")}
              x={px + (label(w) ? -6 : 6)}
              y={(py + clampedLine) / 2 + 4}
              textAnchor={label(w) ? "end" : "start"}
            >
              {format(Number(c.margin), 3)}°
            </text>
          </g>
        );
      })}
      {main.phaseCrossings.slice(0, 4).map((c) => {
        const w = Number(c.frequency);
        if (!inside(w)) return null;
        const decibels = 20 * Math.log10(Number(c.margin));
        const [px, py] = [toPixel(x, w), toPixel(gain, -decibels)];
        const at = valueAt(frequencies, own, w);
        return (
          <g key={w}>
            {at !== null && at >= phase.from && at <= phase.to && (
              <circle cx={px} cy={toPixel(phase, at)} r="4" fill="#fff" stroke="#17324D" strokeWidth="1.4" />
            )}
            <path d={`M${px} ${zero}V${Math.min(py, gain.start)}`} stroke="#17324D" strokeWidth="1.6" />
            <circle cx={px} cy={Math.min(py, gain.start)} r="2.6" fill="#17324D" />
            <text className={cx("margin")} x={px} y={zero - 7} textAnchor={label(w) ? "end" : "middle"}>
              {format(decibels, 3)} dB
            </text>
          </g>
        );
      })}
    </g>
  );
}

function PeakMark({ main, x, sensitivity }: { main: DesignView; x: Scale; sensitivity: Scale }) {
  const wish = useTune((s) => s.wishes.sensitivity);
  const [value, at] = [Number(main.figures?.sensitivity), Number(main.figures?.sensitivityAt)];
  const seen = at >= x.from && at <= x.to && value <= sensitivity.to;
  return (
    <>
      {wish !== null && Number(wish) <= sensitivity.to && (
        <path d={`M${x.start} ${toPixel(sensitivity, Number(wish))}H${x.end}`} stroke="#2E7D5B" />
      )}
      {seen && <circle cx={toPixel(x, at)} cy={toPixel(sensitivity, value)} r="2.8" fill={colorOf(main.name)} />}
      <text className={cx("margin")} x={x.end - 4} y={sensitivity.start - 7} textAnchor="end">
        Ms {format(value, 3)} at {format(at, 3)}
      </text>
    </>
  );
}
