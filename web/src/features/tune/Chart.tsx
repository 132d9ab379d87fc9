import { useState } from "react";
import { fromPixel, toPixel, type Scale } from "../../plots/scale";
import { extent, ticks } from "../../plots/ticks";
import { format } from "../../ui/format";
import { axisTicks, Strip, valueAt, type Curve } from "./axes";
import classNames from "classnames/bind";
import { useSize } from "./useSize";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

interface Props {
  id: string;
  title: string;
  curves: readonly Curve[];
  xLabel: string;
  logX?: boolean;
  /** A value to be seen. */
  rule?: number;
  /** Marks at points, with what is told of them. */
  points?: readonly { x: number; y: number; text?: string; color?: string }[];
  /** The least height that the values are given. */
  least?: number;
}

/** Curves over one axis with a reading at the pointer. */
export function Chart({ id, title, curves, xLabel, logX = false, rule, points = [], least = 0 }: Props) {
  const { ref, width, height } = useSize({ width: 300, height: 180 });
  const [at, setAt] = useState<number | null>(null);
  const xs = [...curves.flatMap((c) => [...c.x]), ...points.map((p) => p.x)].filter((v): v is number => Number.isFinite(v));
  const ys = [...curves.flatMap((c) => [...c.y]), ...points.map((p) => p.y), ...(rule === undefined ? [] : [rule])].filter(Number.isFinite);
  const [from, to] = [Math.min(...xs), Math.max(...xs)];
  let [low, high] = extent(Math.min(...ys), Math.max(...ys));
  if (high - low < least) [low, high] = [(low + high - least) / 2, (low + high + least) / 2];
  const x: Scale = { from, to: to > from ? to : from + 1, start: 52, end: width - 12, logarithmic: logX };
  const y: Scale = { from: low, to: high, start: height - 32, end: 24, logarithmic: false };
  const first = curves[0];
  const value = first && at !== null ? valueAt(first.x, first.y, at) : null;
  return (
    <div ref={ref} className={cx("chart")}>
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
        <text className={cx("chart-title")} x="12" y="15">
          {value !== null && at !== null ? `${format(at, 3)}: ${format(value, 4)}` : title}
        </text>
        {xs.length > 0 && ys.length > 0 && (
          <Strip
            horizontal={x}
            vertical={y}
            rows={ticks(low, high, Math.max(2, Math.floor((y.start - y.end) / 36)))}
            columns={axisTicks(x, Math.max(3, Math.floor((x.end - x.start) / 60)))}
            showColumns
            curves={curves}
            clip={`chart-${id}`}
          >
            {rule !== undefined && <path d={`M${x.start} ${toPixel(y, rule)}H${x.end}`} stroke="#17324D" strokeOpacity=".5" />}
            {points.map((p, i) => (
              <g key={i}>
                <circle cx={toPixel(x, p.x)} cy={toPixel(y, p.y)} r="3.4" fill={p.color ?? "#fff"} stroke="#17324D" strokeWidth="1.2" />
                {p.text && (
                  <text className={cx("margin")} x={toPixel(x, p.x) + 6} y={toPixel(y, p.y) - 6}>
                    {p.text}
                  </text>
                )}
              </g>
            ))}
            {at !== null && <path d={`M${toPixel(x, at)} ${y.end}V${y.start}`} stroke="#17324D" strokeOpacity=".35" />}
          </Strip>
        )}
        <text x={(x.start + x.end) / 2} y={height - 4} textAnchor="middle">
          {xLabel}
        </text>
      </svg>
    </div>
  );
}
