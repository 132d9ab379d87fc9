import { format } from "../../ui/format";
import { toPixel, type Scale } from "../../plots/scale";
import { decades, ticks } from "../../plots/ticks";

/** Round values on an axis: powers of ten, with twos and fives where a decade has room for them. */
export function axisTicks(scale: Scale, wanted: number): number[] {
  if (!scale.logarithmic) return ticks(scale.from, scale.to, wanted);
  const tens = decades(scale.from / 10, scale.to * 10);
  const span = Math.log10(scale.to / scale.from);
  const mantissas = span < wanted / 6 ? [1, 2, 3, 5, 7] : span < wanted / 3 ? [1, 2, 5] : span < wanted / 2 ? [1, 3] : [1];
  const stride = Math.max(1, Math.ceil(span / wanted));
  return tens
    .filter((t) => Math.round(Math.log10(t)) % stride === 0)
    .flatMap((t) => mantissas.map((m) => m * t))
    .filter((v) => v >= scale.from * (1 - 1e-9) && v <= scale.to * (1 + 1e-9));
}

export interface Curve {
  name: string;
  x: readonly number[];
  y: readonly number[];
  color: string;
  width?: number;
}

/** The path of a curve; points far outside are kept near, as some painters give up on huge numbers. */
export function pathOf({ x, y }: Pick<Curve, "x" | "y">, horizontal: Scale, vertical: Scale): string {
  const far = 4 * Math.abs(vertical.end - vertical.start) + 100;
  let path = "";
  for (let i = 0; i < y.length; i++) {
    const px = toPixel(horizontal, x[i] as number);
    const py = Math.max(-far, Math.min(far, toPixel(vertical, y[i] as number)));
    path += `${i ? "L" : "M"}${px.toFixed(1)} ${py.toFixed(1)}`;
  }
  return path;
}

interface StripProps {
  horizontal: Scale;
  vertical: Scale;
  /** Values with lines and labels. */
  rows: readonly number[];
  columns: readonly number[];
  showColumns: boolean;
  curves: readonly Curve[];
  clip: string;
  children?: React.ReactNode;
}

/** Curves between two axes, as a part of a drawing. */
export function Strip({ horizontal, vertical, rows, columns, showColumns, curves, clip, children }: StripProps) {
  const [left, right] = [horizontal.start, horizontal.end];
  const [top, bottom] = [Math.min(vertical.start, vertical.end), Math.max(vertical.start, vertical.end)];
  return (
    <g>
      <clipPath id={clip}>
        <rect x={left} y={top} width={Math.max(0, right - left)} height={Math.max(0, bottom - top)} />
      </clipPath>
      {columns.map((v) => (
        <path key={v} d={`M${toPixel(horizontal, v)} ${top}V${bottom}`} stroke="#17324D" strokeOpacity=".07" />
      ))}
      {rows.map((v) => (
        <g key={v}>
          <path d={`M${left} ${toPixel(vertical, v)}H${right}`} stroke="#17324D" strokeOpacity=".09" />
          <text className="n" x={left - 5} y={toPixel(vertical, v) + 4} textAnchor="end">
            {format(v, 3)}
          </text>
        </g>
      ))}
      {showColumns &&
        columns.map((v) => (
          <text key={v} className="n" x={toPixel(horizontal, v)} y={bottom + 14} textAnchor="middle">
            {format(v, 3)}
          </text>
        ))}
      <path d={`M${left} ${top}V${bottom}H${right}`} fill="none" stroke="#B9C2C9" />
      <g clipPath={`url(#${clip})`}>
        {curves.map((c) => (
          <path
            key={c.name}
            data-curve={c.name}
            d={pathOf(c, horizontal, vertical)}
            fill="none"
            stroke={c.color}
            strokeWidth={c.width ?? 1.3}
            strokeLinejoin="round"
          />
        ))}
      </g>
      {children}
    </g>
  );
}

/** The value of a curve at a place, on the line between two points; null outside. */
export function valueAt(x: readonly number[], y: readonly number[], at: number): number | null {
  if (y.length === 0 || at < (x[0] as number) || at > (x[x.length - 1] as number)) return null;
  let [low, high] = [0, x.length - 1];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if ((x[middle] as number) <= at) low = middle;
    else high = middle;
  }
  const [x0, x1] = [x[low] as number, x[high] as number];
  const share = x1 > x0 ? (at - x0) / (x1 - x0) : 0;
  return (y[low] as number) + share * ((y[high] as number) - (y[low] as number));
}
