import classNames from "classnames/bind";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { fromPixel, toPixel, type Scale } from "../../plots/scale";
import { ticks } from "../../plots/ticks";
import { useBench } from "../../state/bench";
import { HAND, useTune } from "../../state/tune";
import { format } from "../../ui/format";
import { Strip, valueAt, type Curve } from "./axes";
import { colorOf, MarkIcon } from "./marks";
import { useSize } from "./useSize";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

/** Below the map: what a step of the set-point, a load and the model's own run do with each design. */
export default function Responses() {
  const { designs, times, runs, noRuns, map } = useTune(
    useShallow((s) => ({ designs: s.designs, times: s.times, runs: s.runs, noRuns: s.noRuns, map: s.map })),
  );
  const time = useBench((s) => s.time);
  const shown = [...designs.values()].filter((d) => d.gains);
  const of = (pick: (name: string) => { x: readonly number[]; y: readonly number[] } | undefined): Curve[] =>
    shown.flatMap((d) => {
      const c = pick(d.name);
      return c && c.y.length > 0 ? [{ name: d.name, ...c, color: colorOf(d.name), width: d.name === HAND ? 2 : 1.3 }] : [];
    });
  const linear = (key: "setPoint" | "load" | "effort") => of((name) => ({ x: times, y: (designs.get(name)?.[key] ?? []).map(Number) }));
  const error = of((name) => {
    const curve = runs.get(name)?.error;
    return curve && { x: curve.times.map(Number), y: curve.values.map(Number) };
  });
  const bars = shown.flatMap((d) => {
    const stretches = runs.get(d.name)?.atLimit ?? [];
    return stretches.length > 0 ? [{ name: d.name, stretches: stretches.map((s) => [Number(s.from), Number(s.to)] as const) }] : [];
  });
  const unit = (text: string | undefined) => (text ? `, ${text}` : "");
  return (
    <section className={cx("responses")} aria-label="Responses">
      <header className={cx("legend")}>
        {shown.map((d) => (
          <span key={d.name}>
            <MarkIcon name={d.name} /> {d.name}
          </span>
        ))}
        {noRuns.size > 0 && (
          <b className={cx("no-run")} role="status" title={[...noRuns].map(([name, why]) => `${name}: ${why}`).join("\n")}>
            true run of {[...noRuns.keys()].join(", ")} ends early: {[...noRuns.values()][0]}
          </b>
        )}
        <em className="quiet">time, s</em>
      </header>
      <div className={cx("panels")}>
        <Panel id="set-point" title="Set-point step" curves={linear("setPoint")} rule={1} />
        <Panel id="load" title="Load step of 1" curves={linear("load")} rule={0} />
        <Panel id="effort" title={`Effort of the step${unit(map?.units.effort)}`} curves={linear("effort")} rule={0} />
        <Panel id="true-run" title={`True run: error${unit(map?.units.measured)}`} curves={error} rule={0} bars={bars} cursor={time} />
      </div>
    </section>
  );
}

interface PanelProps {
  id: string;
  title: string;
  curves: Curve[];
  /** A value to be seen. */
  rule: number;
  /** Stretches at a limit, by design. */
  bars?: { name: string; stretches: (readonly [number, number])[] }[];
  cursor?: number | null;
}

function Panel({ id, title, curves, rule, bars = [], cursor = null }: PanelProps) {
  const { ref, width, height } = useSize({ width: 186, height: 150 });
  const [at, setAt] = useState<number | null>(null);
  const finite = curves.flatMap((c) => [...c.y]).filter(Number.isFinite);
  const end = Math.max(...curves.map((c) => c.x[c.x.length - 1] ?? 0), 0);
  const [low, high] = [Math.min(rule, ...finite), Math.max(rule, ...finite)];
  const air = 0.06 * (high - low || 1);
  const foot = 18 + 6 * bars.length;
  const x: Scale = { from: 0, to: end || 1, start: 46, end: width - 10, logarithmic: false };
  const y: Scale = { from: low - (low < rule ? air : 0), to: high + air, start: height - foot, end: 22, logarithmic: false };
  const read = at === null ? null : (curves.find((c) => c.name === HAND) ?? curves[0]);
  const value = read && at !== null ? valueAt(read.x, read.y, at) : null;
  return (
    <div ref={ref} className={cx("panel")}>
      <svg
        width={width}
        height={height}
        role="img"
        aria-label={title}
        onPointerMove={(e) => {
          const px = e.clientX - e.currentTarget.getBoundingClientRect().left;
          setAt(px >= x.start && px <= x.end ? fromPixel(x, px) : null);
        }}
        onPointerLeave={() => setAt(null)}
      >
        <text className={cx("panel-title")} x="12" y="14">
          {value !== null && at !== null ? `${format(at, 3)} s: ${format(value, 4)}` : title}
        </text>
        {curves.length > 0 && (
          <Strip
            horizontal={x}
            vertical={y}
            rows={ticks(y.from, y.to, 3)}
            columns={ticks(0, x.to, 3)}
            showColumns
            curves={curves}
            clip={`panel-${id}`}
          >
            <path d={`M${x.start} ${toPixel(y, rule)}H${x.end}`} stroke="#17324D" strokeOpacity=".3" />
            {bars.map((b, i) =>
              b.stretches.map(([from, to]) => (
                <rect
                  key={`${b.name} ${from}`}
                  x={toPixel(x, from)}
                  y={y.start + 16 + 6 * i}
                  width={Math.max(1, toPixel(x, to) - toPixel(x, from))}
                  height="4"
                  fill={colorOf(b.name)}
                >
                  <title>{`${b.name}: at its limit from ${format(from)} to ${format(to)} s`}</title>
                </rect>
              )),
            )}
            {cursor !== null && cursor <= x.to && <path d={`M${toPixel(x, cursor)} ${y.end}V${y.start}`} stroke="#D9481C" />}
            {at !== null && <path d={`M${toPixel(x, at)} ${y.end}V${y.start}`} stroke="#17324D" strokeOpacity=".35" />}
          </Strip>
        )}
      </svg>
    </div>
  );
}
