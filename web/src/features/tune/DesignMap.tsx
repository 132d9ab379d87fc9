import classNames from "classnames/bind";
import { memo, useMemo, useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { MapAnswer, WishesView } from "../../api/client";
import { fromPixel, toPixel, type Scale } from "../../plots/scale";
import { APPLIED, dragTo, HAND, useTune, type Depth } from "../../state/tune";
import { format } from "../../ui/format";
import { axisTicks } from "./axes";
import { areas, filled, levels, lines, type Field, type Point } from "./contours";
import { colorOf, Mark } from "./marks";
import { useSize } from "./useSize";
import { MapChoice } from "./MapChoice";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

const EDGE = { left: 48, top: 30, right: 12, bottom: 40 };
const PEAK_MARKS = [1.1, 1.2, 1.3, 1.4, 1.6, 1.8, 2, 2.5, 3];

/** How far an arrow key moves: shares of the bandwidth, and of the distance to −1. */
const FASTER = 1.04;
const NEARER = 0.01;

interface Axes {
  x: Scale;
  /** Over the distance to −1, the inverse of the peak. */
  y: Scale;
}

function axesOf(map: MapAnswer, width: number, height: number): Axes {
  const [from, to] = [Number(map.bandwidths[0]), Number(map.bandwidths.at(-1))];
  const [first, last] = [Number(map.peaks[0]), Number(map.peaks.at(-1))];
  return {
    x: { from, to, start: EDGE.left, end: width - EDGE.right, logarithmic: true },
    y: { from: 1 / first, to: 1 / last, start: EDGE.top, end: height - EDGE.bottom, logarithmic: false },
  };
}

const field = (rows: MapAnswer["loadErrors"]): Field => rows.map((row) => row.map((v) => (v === null ? null : Number(v))));

/** The plane of speed against robustness as a chart: lines of what is reached, land where the form does not get, marks for designs. */
export function DesignMap() {
  const { map, depth, wishes, designs, part } = useTune(
    useShallow((s) => ({ map: s.map, depth: s.depth, wishes: s.wishes, designs: s.designs, part: s.part })),
  );
  const { ref, width, height } = useSize({ width: 402, height: 440 });
  const [aim, setAim] = useState<{ x: number; y: number } | null>(null);
  const dragged = useRef(false);
  const axes = map && axesOf(map, width, height);

  const hand = designs.get(HAND);
  const place = (bandwidth: number, peak: number) => axes && { x: toPixel(axes.x, bandwidth), y: toPixel(axes.y, 1 / peak) };
  const aimAt = (e: React.PointerEvent<SVGSVGElement>) => {
    if (!axes) return;
    const box = e.currentTarget.getBoundingClientRect();
    const within = (v: number, s: Scale) => Math.max(Math.min(s.start, s.end), Math.min(Math.max(s.start, s.end), v));
    const at = { x: within(e.clientX - box.left, axes.x), y: within(e.clientY - box.top, axes.y) };
    setAim(at);
    dragTo(fromPixel(axes.x, at.x), 1 / fromPixel(axes.y, at.y));
  };
  const nudge = (e: React.KeyboardEvent) => {
    const [w, m] = [Number(hand?.figures?.bandwidth), Number(hand?.figures?.sensitivity)];
    const step = { ArrowRight: [FASTER, 0], ArrowLeft: [1 / FASTER, 0], ArrowUp: [1, NEARER], ArrowDown: [1, -NEARER] }[e.key];
    if (!step || !w || !m || !map) return;
    e.preventDefault();
    const distance = Math.min(1 / Number(map.peaks[0]), Math.max(1 / Number(map.peaks.at(-1)), 1 / m + (step[1] as number)));
    dragTo(w * (step[0] as number), 1 / distance);
  };

  return (
    <section className={cx("map")} aria-label="Design map">
      <header className={cx("pane-head")}>
        <h2>Design map</h2>
        <MapChoice />
      </header>
      <div ref={ref} className={cx("map-sheet")}>
        {map && axes && (
          <svg
            key={part}
            width={width}
            height={height}
            role="slider"
            tabIndex={0}
            aria-label="Design in hand"
            data-form={map.form}
            aria-valuenow={Number(hand?.figures?.bandwidth ?? 0)}
            aria-valuemin={axes.x.from}
            aria-valuemax={axes.x.to}
            aria-valuetext={
              hand?.figures
                ? `bandwidth ${format(Number(hand.figures.bandwidth), 3)} rad/s, peak of sensitivity ${format(Number(hand.figures.sensitivity), 3)}`
                : "none"
            }
            onPointerDown={(e) => {
              if (e.button !== 0) return;
              e.currentTarget.setPointerCapture(e.pointerId);
              dragged.current = true;
              aimAt(e);
            }}
            onPointerMove={(e) => dragged.current && aimAt(e)}
            onPointerUp={() => ((dragged.current = false), setAim(null))}
            onPointerCancel={() => ((dragged.current = false), setAim(null))}
            onKeyDown={nudge}
          >
            <Chart map={map} depth={depth} wishes={wishes} width={width} height={height} />
            {[...designs.values()].map((d) => {
              const at =
                d.figures?.bandwidth && d.figures.sensitivity && d.figures.isStable !== false
                  ? place(Number(d.figures.bandwidth), Number(d.figures.sensitivity))
                  : null;
              return at && <Placed key={d.name} name={d.name} at={at} axes={axes} />;
            })}
            {aim && <path d={`M${aim.x - 6} ${aim.y}h12M${aim.x} ${aim.y - 6}v12`} stroke={colorOf(HAND)} strokeOpacity=".6" />}
          </svg>
        )}
      </div>
    </section>
  );
}

const clamp = (v: number, a: number, b: number) => Math.min(Math.max(a, b), Math.max(Math.min(a, b), v));

/** A design at its place; at the border where it lies beyond. */
function Placed({ name, at, axes }: { name: string; at: { x: number; y: number }; axes: Axes }) {
  const [x, y] = [clamp(at.x, axes.x.start, axes.x.end), clamp(at.y, axes.y.start, axes.y.end)];
  const beyond = Math.abs(x - at.x) > 1 || Math.abs(y - at.y) > 1;
  const color = colorOf(name);
  return (
    <g data-design={name} opacity={beyond ? 0.55 : 1}>
      {name === HAND && (
        <>
          <path d={`M${axes.x.start} ${y}H${x - 7}M${x} ${axes.y.end}V${y + 7}`} stroke={color} strokeWidth="1.1" />
          <Tag x={axes.x.start - 2} y={y} anchor="end" text={format(1 / fromPixel(axes.y, at.y), 3)} />
          <Tag x={x} y={axes.y.end + 11} anchor="middle" text={format(fromPixel(axes.x, at.x), 3)} />
        </>
      )}
      <g transform={`translate(${x} ${y})`}>
        {name !== HAND && <circle r="8" fill="#fff" fillOpacity=".75" />}
        <Mark name={name} />
        {name !== HAND && (
          <text className={cx("halo")} x={name === APPLIED ? -9 : 8} y="-5" textAnchor={name === APPLIED ? "end" : "start"}>
            {name}
          </text>
        )}
      </g>
    </g>
  );
}

function Tag({ x, y, anchor, text }: { x: number; y: number; anchor: "end" | "middle"; text: string }) {
  const w = 8 + 6.7 * text.length;
  return (
    <g transform={`translate(${anchor === "end" ? x - w : x - w / 2} ${y - 8})`}>
      <rect width={w} height="16" rx="3" fill={colorOf(HAND)} />
      <text className="n" x={w / 2} y="12" textAnchor="middle" style={{ fill: "#fff" }}>
        {text}
      </text>
    </g>
  );
}

interface ChartProps {
  map: MapAnswer;
  depth: Depth;
  wishes: WishesView;
  width: number;
  height: number;
}

/** All of the map that does not move with the design in hand. */
const Chart = memo(function Chart({ map, depth, wishes, width, height }: ChartProps) {
  const axes = axesOf(map, width, height);
  const depths = useMemo(() => field(depth === "noiseGain" ? map.noiseGains : map.loadErrors), [map, depth]);
  const noise = useMemo(() => field(map.noiseGains), [map]);
  const shown = useMemo(() => {
    const whole = filled(depths);
    return {
      land: areas(depths, (v) => v === null),
      lines: levels(depths, 13).map((level) => ({ level, lines: lines(whole, level) })),
    };
  }, [depths]);
  const limit = wishes.noiseGain === null ? null : Number(wishes.noiseGain);
  const shoal = useMemo(() => (limit === null ? [] : areas(noise, (v) => v !== null && v > limit)), [noise, limit]);
  const [columns, rows] = [map.bandwidths.length, map.peaks.length];
  const px = (x: number) => axes.x.start + (x / (columns - 1)) * (axes.x.end - axes.x.start);
  const py = (y: number) => axes.y.start + (y / (rows - 1)) * (axes.y.end - axes.y.start);
  const path = (points: readonly Point[]) => points.map(([x, y], i) => `${i ? "L" : "M"}${px(x).toFixed(1)} ${py(y).toFixed(1)}`).join("");
  const outline = (polygons: Point[][][]) => polygons.flatMap((p) => p.map((ring) => path(ring) + "Z")).join("");
  const [left, right, top, bottom] = [axes.x.start, axes.x.end, axes.y.start, axes.y.end];
  const marks = axisTicks(axes.x, 7);
  return (
    <>
      <defs>
        <clipPath id="map-sheet">
          <rect x={left} y={top} width={right - left} height={bottom - top} />
        </clipPath>
        <pattern id="map-land" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V7" stroke="#CDBE96" strokeWidth="1" />
        </pattern>
      </defs>
      <rect x={left} y={top} width={right - left} height={bottom - top} fill="#fff" />
      <g clipPath="url(#map-sheet)">
        {shoal.length > 0 && <path d={outline(shoal)} fill="#D5E6EC" fillRule="evenodd" />}
        {marks.map((v) => (
          <path key={v} d={`M${toPixel(axes.x, v)} ${top}V${bottom}`} stroke="#17324D" strokeOpacity=".05" />
        ))}
        {shown.lines.map(({ level, lines: found }, i) => (
          <g key={level}>
            {found.map((line, k) => (
              <path key={k} d={path(line)} fill="none" stroke="#6F93AE" strokeWidth={i % 2 ? 0.9 : 1.4} strokeOpacity=".75" />
            ))}
          </g>
        ))}
        <path d={outline(shown.land)} fill="#F2E9D2" fillRule="evenodd" />
        <path d={outline(shown.land)} fill="url(#map-land)" fillRule="evenodd" stroke="#17324D" strokeWidth="1.4" />
        {soundings(shown.lines, depths, (p) => [px(p[0]), py(p[1])]).map(({ level, at }) => (
          <text key={level} className={cx("sounding")} x={at[0]} y={at[1] + 4} textAnchor="middle">
            {format(level, 3)}
          </text>
        ))}
        <WishLines wishes={wishes} axes={axes} />
      </g>
      {map.shores.map((s) => (
        <ShoreText
          key={s.why}
          from={toPixel(axes.x, Number(s.from))}
          to={toPixel(axes.x, Number(s.to))}
          axes={axes}
          form={map.form}
          why={s.why}
        />
      ))}
      <Border axes={axes} marks={marks} />
      <text x={(left + right) / 2} y={height - 4} textAnchor="middle">
        bandwidth, rad/s
      </text>
      <text transform={`translate(11 ${(top + bottom) / 2}) rotate(-90)`} textAnchor="middle">
        peak of sensitivity, Ms
      </text>
    </>
  );
});

/** How far values on depth lines stand from one another, px. */
const APART = { x: 30, y: 14 };

/** Where the values of the depth lines stand: on each line's longest piece, in the water, apart from one another. */
function soundings(
  all: readonly { level: number; lines: Point[][] }[],
  depths: Field,
  pixel: (p: Point) => Point,
): { level: number; at: Point }[] {
  const columns = depths[0]?.length ?? 0;
  const placed: { level: number; at: Point }[] = [];
  const isWater = ([x, y]: Point) =>
    x > 1 &&
    x < columns - 2 &&
    y > 0.8 &&
    y < depths.length - 1.8 &&
    [-1, 0, 1, 2].every((d) => depths[Math.round(y)]?.[Math.min(columns - 1, Math.max(0, Math.floor(x) + d))] != null);
  all.forEach(({ level, lines: found }, turn) => {
    const longest = found.reduce<Point[]>((best, l) => (l.length > best.length ? l : best), []);
    for (const share of [0.25 + 0.17 * (turn % 4), 0.5, 0.3, 0.7, 0.15, 0.85]) {
      const point = longest[Math.floor(share * (longest.length - 1))];
      if (!point || longest.length < 6 || !isWater(point)) continue;
      const at = pixel(point);
      if (placed.some((p) => Math.abs(p.at[0] - at[0]) < APART.x && Math.abs(p.at[1] - at[1]) < APART.y)) continue;
      placed.push({ level, at });
      return;
    }
  });
  return placed;
}

/** Wishes as lines with teeth on the forbidden side. */
function WishLines({ wishes, axes }: { wishes: WishesView; axes: Axes }) {
  const green = { stroke: "#2E7D5B", fill: "none" };
  const peak = wishes.sensitivity === null ? null : toPixel(axes.y, 1 / Number(wishes.sensitivity));
  const least = wishes.bandwidth === null ? null : toPixel(axes.x, Number(wishes.bandwidth));
  const teeth = (from: number, to: number, one: (v: number) => string) =>
    Array.from({ length: Math.max(0, Math.floor((to - from) / 20)) }, (_, i) => one(from + 10 + 20 * i)).join("");
  return (
    <>
      {peak !== null && (
        <g>
          <path d={`M${axes.x.start} ${peak}H${axes.x.end}${teeth(axes.x.start, axes.x.end, (x) => `M${x} ${peak}v5`)}`} {...green} />
          <text className={cx("wish-text")} x={axes.x.start + 6} y={peak + 14}>
            Ms below {format(Number(wishes.sensitivity), 3)}
          </text>
        </g>
      )}
      {least !== null && (
        <g>
          <path d={`M${least} ${axes.y.start}V${axes.y.end}${teeth(axes.y.start, axes.y.end, (y) => `M${least} ${y}h-5`)}`} {...green} />
          <text className={cx("wish-text")} transform={`translate(${least - 8} ${axes.y.end - 8}) rotate(-90)`}>
            at least {format(Number(wishes.bandwidth), 3)} rad/s
          </text>
        </g>
      )}
    </>
  );
}

interface ShoreProps {
  from: number;
  to: number;
  axes: Axes;
  form: string;
  why: string;
}

/** On the land, why the form does not get there. */
function ShoreText({ from, to, axes, form, why }: ShoreProps) {
  const right = to >= axes.x.end - 1;
  const x = right ? axes.x.end - 8 : axes.x.start + 8;
  const room = Math.max(14, Math.floor((to - from + 70) / 6));
  const words = why.split(" ");
  const rows: string[] = [];
  for (const word of words) {
    const last = rows[rows.length - 1];
    if (last !== undefined && last.length + word.length < room) rows[rows.length - 1] = `${last} ${word}`;
    else rows.push(word);
  }
  const y = right ? axes.y.start + 0.42 * (axes.y.end - axes.y.start) : axes.y.end - 14 * rows.length - 24;
  return (
    <text x={x} y={y} textAnchor={right ? "end" : "start"} className={cx("halo")}>
      <tspan className={cx("shore-head")}>No {form.startsWith("rejection") ? "such controller" : form} gets here</tspan>
      {rows.map((r, i) => (
        <tspan key={i} x={x} dy="14">
          {r}
        </tspan>
      ))}
    </text>
  );
}

/** The border of a chart: ink and white in turn at round values, to read by. */
function Border({ axes, marks }: { axes: Axes; marks: readonly number[] }) {
  const [left, right, top, bottom] = [axes.x.start, axes.x.end, axes.y.start, axes.y.end];
  const xs = [left, ...marks.map((v) => toPixel(axes.x, v)).filter((v) => v > left && v < right), right];
  const peaks = PEAK_MARKS.filter((p) => 1 / p <= axes.y.from + 1e-9 && 1 / p >= axes.y.to - 1e-9);
  const ys = [top, ...peaks.map((p) => toPixel(axes.y, 1 / p)).filter((v) => v > top + 1 && v < bottom - 1), bottom];
  const pairs = (values: number[]) =>
    values
      .slice(0, -1)
      .map((v, i) => [v, values[i + 1] as number] as const)
      .filter((_, i) => i % 2 === 0);
  return (
    <g>
      <rect x={left - 2} y={top - 2} width={right - left + 4} height={bottom - top + 4} fill="none" stroke="#17324D" strokeWidth="4" />
      <rect x={left - 2} y={top - 2} width={right - left + 4} height={bottom - top + 4} fill="none" stroke="#fff" strokeWidth="2.4" />
      {pairs(xs).map(([a, b]) => (
        <path key={a} d={`M${a} ${top - 2}H${b}M${a} ${bottom + 2}H${b}`} stroke="#17324D" strokeWidth="2.4" />
      ))}
      {pairs(ys).map(([a, b]) => (
        <path key={a} d={`M${left - 2} ${a}V${b}M${right + 2} ${a}V${b}`} stroke="#17324D" strokeWidth="2.4" />
      ))}
      {marks.map((v) => (
        <text key={v} className="n" x={toPixel(axes.x, v)} y={bottom + 16} textAnchor="middle">
          {format(v, 3)}
        </text>
      ))}
      {peaks.map((p) => (
        <text key={p} className="n" x={left - 8} y={toPixel(axes.y, 1 / p) + 4} textAnchor="end">
          {p.toFixed(1)}
        </text>
      ))}
    </g>
  );
}
