import { format } from "../../ui/format";

const [WIDTH, HEIGHT, EDGE] = [236, 110, 8];

interface Props {
  x: readonly number[];
  y: readonly number[];
  label?: string;
  /** A point that is meant, by its place among the others. */
  chosen?: number | undefined;
}

/** A small curve through points. */
export function PointCurve({ x, y, label = `Curve of ${x.length} points`, chosen }: Props) {
  const [x0, x1, y0, y1] = [Math.min(...x), Math.max(...x), Math.min(...y), Math.max(...y)];
  const at = (i: number) => {
    const u = EDGE + (((x[i] as number) - x0) / (x1 - x0 || 1)) * (WIDTH - 2 * EDGE);
    const v = HEIGHT - EDGE - (((y[i] as number) - y0) / (y1 - y0 || 1)) * (HEIGHT - 2 * EDGE);
    return [u, v] as const;
  };
  const points = x.map((_, i) => at(i));
  const mark = chosen === undefined ? undefined : points[chosen];
  return (
    <figure>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width={WIDTH} height={HEIGHT} role="img" aria-label={label}>
        <rect x="0.5" y="0.5" width={WIDTH - 1} height={HEIGHT - 1} fill="var(--paper)" stroke="var(--line)" rx="4" />
        <polyline points={points.map((p) => p.join(",")).join(" ")} fill="none" stroke="#0072b2" strokeWidth="1.4" />
        {points.length < 80 && points.map(([u, v], i) => <circle key={i} cx={u} cy={v} r="2" fill="#0072b2" />)}
        {mark && <circle cx={mark[0]} cy={mark[1]} r="4.5" fill="var(--surface)" stroke="var(--buoy)" strokeWidth="2" />}
      </svg>
      <figcaption className="quiet mono">
        {format(x0)} … {format(x1)} → {format(y0)} … {format(y1)}
      </figcaption>
    </figure>
  );
}
