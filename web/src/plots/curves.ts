import { extent } from "./ticks";

/** A curve to be drawn: points in the order in which they are joined. A value v stands at v·scale + shift. */
export interface Line {
  x: ArrayLike<number>;
  y: ArrayLike<number>;
  /** Values of a second course: what lies between the two is filled, and neither is drawn. */
  upTo?: ArrayLike<number>;
  color: string;
  width?: number;
  dash?: readonly number[];
  opacity?: number;
  scale?: number;
  shift?: number;
  /** Whether it belongs to the axis at the right. */
  right?: boolean;
  /** Whether a value is held until the next point. */
  steps?: boolean;
  /** Whether the axis takes no notice of it: a curve of another run must not flatten the present ones. */
  aside?: boolean;
}

/** A level over a stretch of the axis along the bottom. */
export interface Rule {
  from: number;
  to: number;
  value: number;
  color: string;
  /** The side that is not allowed, for limits. */
  beyond?: "above" | "below";
  /** Whether it need only be reached once on the way. */
  once?: boolean;
}

/** The range of curves within a stretch, with a little air. */
export function rangeOf(lines: readonly Line[], rules: readonly Rule[], from: number, to: number, logarithmic: boolean): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  const counted = lines.some((l) => !l.aside) ? lines.filter((l) => !l.aside) : lines;
  for (const l of counted)
    for (const y of l.upTo ? [l.y, l.upTo] : [l.y])
      for (let i = 0; i < y.length; i++) {
        const x = l.x[i] as number;
        if (x < from || x > to) continue;
        const v = (y[i] as number) * (l.scale ?? 1) + (l.shift ?? 0);
        if (logarithmic && !(v > 0)) continue;
        if (v < low) low = v;
        if (v > high) high = v;
      }
  if (logarithmic) {
    if (!(low < Infinity)) return [0.1, 10];
    // More than twelve decades are rounding, not content.
    const least = Math.max(low, high * 1e-12);
    return [10 ** Math.floor(Math.log10(least) + 1e-9), 10 ** Math.ceil(Math.log10(high) - 1e-9) * (least === high ? 10 : 1)];
  }
  for (const r of rules) {
    // A limit far away must not flatten the curve.
    const span = Math.max(high - low, 1e-12);
    if (r.value > high && r.value < high + 1.5 * span) high = r.value;
    if (r.value < low && r.value > low - 1.5 * span) low = r.value;
  }
  return extent(low, high);
}

/** Lowest and highest x of curves. */
export function spanOf(lines: readonly Line[], logarithmic: boolean): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  for (const l of lines)
    for (let i = 0; i < l.x.length; i++) {
      const x = l.x[i] as number;
      if (logarithmic && !(x > 0)) continue;
      if (x < low) low = x;
      if (x > high) high = x;
    }
  return low < high ? [low, high] : logarithmic ? [0.1, 10] : extent(low, high);
}
