/** Round tick values within a range, at most about the wanted number. */
export function ticks(from: number, to: number, wanted: number): number[] {
  const span = to - from;
  if (!(span > 0) || !Number.isFinite(span)) return [from];
  const raw = span / Math.max(1, wanted);
  const power = 10 ** Math.floor(Math.log10(raw));
  const step = [1, 2, 5, 10].map((m) => m * power).find((s) => s >= raw * 0.999) as number;
  const result: number[] = [];
  for (let k = Math.ceil(from / step - 1e-9); k * step <= to + 1e-9 * span; k++) result.push(Number((k * step).toPrecision(12)));
  return result;
}

/** As many of evenly spaced ticks as their labels have room for, zero among them where it is one. */
export function spaced(values: readonly number[], pixelsEach: number, least: number): readonly number[] {
  const stride = Math.ceil(least / pixelsEach);
  if (values.length < 2 || stride < 2) return values;
  const zero = Math.max(0, values.indexOf(0));
  return values.filter((_, i) => (i - zero) % stride === 0);
}

/** Powers of ten within a range, for logarithmic axes. */
export function decades(from: number, to: number): number[] {
  const result: number[] = [];
  for (let e = Math.ceil(Math.log10(from) - 1e-9); 10 ** e <= to * (1 + 1e-9); e++) result.push(10 ** e);
  return result;
}

/** Lowest and highest value with a little air; a flat line gets room on both sides. */
export function extent(low: number, high: number): [number, number] {
  if (!Number.isFinite(low) || !Number.isFinite(high)) return [0, 1];
  if (low === high) {
    const d = low === 0 ? 1 : Math.abs(low) * 0.1;
    return [low - d, high + d];
  }
  const air = 0.06 * (high - low);
  return [low >= 0 && low < 0.3 * (high - low) ? Math.min(0, low) : low - air, high + air];
}
