/** Round scales open at the bottom: three quarters of a circle, from lower left to lower right. */

const BEGIN = 135;
const SWEEP = 270;

/** A point of the scale, from 0 at its beginning to 1 at its end. */
export function onCircle(cx: number, cy: number, r: number, part: number): { x: number; y: number } {
  const angle = ((BEGIN + SWEEP * part) * Math.PI) / 180;
  return { x: cx + r * Math.cos(angle), y: cy + r * Math.sin(angle) };
}

export function arcPath(cx: number, cy: number, r: number, from: number, to: number): string {
  const [a, b] = [onCircle(cx, cy, r, from), onCircle(cx, cy, r, to)];
  return `M${a.x} ${a.y}A${r} ${r} 0 ${(to - from) * SWEEP > 180 ? 1 : 0} 1 ${b.x} ${b.y}`;
}

/** Round numbers for the marks of a scale, about as many as wanted. */
export function marksOf(from: number, to: number, about: number): number[] {
  const span = to - from;
  if (!(span > 0)) return [from];
  const rough = span / about;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 2.5, 5, 10].map((m) => m * power).find((s) => s >= rough * 0.999) ?? power * 10;
  const marks: number[] = [];
  for (let i = Math.ceil(from / step - 1e-9); i * step <= to + 1e-9 * span; i++) marks.push(Number((i * step).toPrecision(12)));
  return marks;
}
