import classNames from "classnames/bind";
import { toPixel, type Scale } from "../../plots/scale";
import { ticks } from "../../plots/ticks";
import { format } from "../../ui/format";
import { Strip, type Curve } from "./axes";
import { useSize } from "./useSize";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

interface Props {
  id: string;
  title: string;
  curves?: readonly Curve[];
  crosses?: readonly (readonly [number, number])[];
  rings?: readonly (readonly [number, number])[];
  /** The stretch of both axes that must be seen. */
  seen: readonly (readonly [number, number])[];
  /** Circles about points: of equal distance to −1, or of equal natural frequency about zero. */
  circles?: readonly { x: number; y: number; r: number; text?: string }[];
  /** Rays from zero into the left half, of equal damping. */
  rays?: readonly number[];
  labels: readonly [string, string];
  marks?: readonly { x: number; y: number; text: string }[];
}

/** A plane of complex numbers, with one scale for both axes. */
export function Plane({ id, title, curves = [], crosses = [], rings = [], seen, circles = [], rays = [], labels, marks = [] }: Props) {
  const { ref, width, height } = useSize({ width: 300, height: 260 });
  const all = seen.length > 0 ? seen : ([[0, 0]] as const);
  const room = { left: 52, right: 12, top: 24, bottom: 32 };
  const [w, h] = [Math.max(40, width - room.left - room.right), Math.max(40, height - room.top - room.bottom)];
  const span = (pick: 0 | 1) => {
    const v = all.map((p) => p[pick]);
    return [Math.min(...v, 0), Math.max(...v, 0)] as const;
  };
  const [[x0, x1], [y0, y1]] = [span(0), span(1)];
  const unit = 1.15 * Math.max((x1 - x0) / w, (y1 - y0) / h, 1e-12);
  const [cx0, cy0] = [(x0 + x1) / 2, (y0 + y1) / 2];
  const x: Scale = { from: cx0 - (unit * w) / 2, to: cx0 + (unit * w) / 2, start: room.left, end: room.left + w, logarithmic: false };
  const y: Scale = { from: cy0 - (unit * h) / 2, to: cy0 + (unit * h) / 2, start: room.top + h, end: room.top, logarithmic: false };
  return (
    <div ref={ref} className={cx("chart")}>
      <svg width={width} height={height} role="img" aria-label={title}>
        <text className={cx("chart-title")} x="12" y="15">
          {title}
        </text>
        <Strip
          horizontal={x}
          vertical={y}
          rows={ticks(y.from, y.to, 5)}
          columns={ticks(x.from, x.to, 5)}
          showColumns
          curves={curves}
          clip={`plane-${id}`}
        >
          <g clipPath={`url(#plane-${id})`}>
            <path d={`M${x.start} ${toPixel(y, 0)}H${x.end}M${toPixel(x, 0)} ${y.start}V${y.end}`} stroke="#17324D" strokeOpacity=".45" />
            {circles.map((c, i) => (
              <g key={i}>
                <circle cx={toPixel(x, c.x)} cy={toPixel(y, c.y)} r={c.r / unit} fill="none" stroke="#6F93AE" strokeDasharray="3 3" />
                {c.text && (
                  <text x={toPixel(x, c.x - c.r * 0.7)} y={toPixel(y, c.y + c.r * 0.7) - 3} textAnchor="end">
                    {c.text}
                  </text>
                )}
              </g>
            ))}
            {rays.map((d) => {
              const far = 4 * (Math.abs(x.from) + Math.abs(y.from) + Math.abs(y.to));
              const up = Math.sqrt(1 - d * d);
              return (
                <path
                  key={d}
                  d={`M${toPixel(x, -d * far)} ${toPixel(y, up * far)}L${toPixel(x, 0)} ${toPixel(y, 0)}L${toPixel(x, -d * far)} ${toPixel(y, -up * far)}`}
                  fill="none"
                  stroke="#6F93AE"
                  strokeDasharray="3 3"
                >
                  <title>damping {format(d)}</title>
                </path>
              );
            })}
            {crosses.map(([a, b], i) => (
              <path
                key={i}
                transform={`translate(${toPixel(x, a)} ${toPixel(y, b)})`}
                d="M-4.5-4.5l9 9M4.5-4.5l-9 9"
                stroke={a > 1e-9 ? "#B3261E" : "#17324D"}
                strokeWidth="1.8"
              >
                <title>{`pole ${format(a, 4)} ${b < 0 ? "−" : "+"} ${format(Math.abs(b), 4)}j 1/s`}</title>
              </path>
            ))}
            {rings.map(([a, b], i) => (
              <circle key={i} cx={toPixel(x, a)} cy={toPixel(y, b)} r="4.6" fill="none" stroke="#17324D" strokeWidth="1.6">
                <title>{`zero ${format(a, 4)} ${b < 0 ? "−" : "+"} ${format(Math.abs(b), 4)}j 1/s`}</title>
              </circle>
            ))}
            {marks.map((m) => (
              <g key={m.text}>
                <circle cx={toPixel(x, m.x)} cy={toPixel(y, m.y)} r="2.8" fill="#D9481C" />
                <text x={toPixel(x, m.x) + 6} y={toPixel(y, m.y) - 4}>
                  {m.text}
                </text>
              </g>
            ))}
          </g>
        </Strip>
        <text x={(x.start + x.end) / 2} y={height - 4} textAnchor="middle">
          {labels[0]}
        </text>
        <text transform={`translate(11 ${(y.start + y.end) / 2}) rotate(-90)`} textAnchor="middle">
          {labels[1]}
        </text>
      </svg>
    </div>
  );
}
