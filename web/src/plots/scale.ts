import { decades, ticks } from "./ticks";

/** An axis on the screen: from values to pixels and back. */
export interface Scale {
  from: number;
  to: number;
  /** Pixels of the ends. */
  start: number;
  end: number;
  logarithmic: boolean;
}

export const toPixel = ({ from, to, start, end, logarithmic }: Scale, value: number): number => {
  const part = logarithmic ? Math.log(value / from) / Math.log(to / from) : (value - from) / (to - from);
  return start + part * (end - start);
};

export const fromPixel = ({ from, to, start, end, logarithmic }: Scale, pixel: number): number => {
  const part = (pixel - start) / (end - start);
  return logarithmic ? from * (to / from) ** part : from + part * (to - from);
};

/** Values where the axis has labels, and the distance of two of them in pixels. */
export function marksOf(scale: Scale, wanted: number): { values: number[]; apart: number } {
  const tens = scale.logarithmic ? decades(scale.from, scale.to) : [];
  // Less than a decade has no round powers to show.
  const values = tens.length >= 2 ? tens : ticks(scale.from, scale.to, wanted);
  const [a, b] = values;
  return { values, apart: a !== undefined && b !== undefined ? Math.abs(toPixel(scale, b) - toPixel(scale, a)) : Infinity };
}

/** The stretch that is seen when the axis is stretched about a value; a factor below 1 looks closer. */
export function zoomed({ from, to, logarithmic }: Scale, about: number, factor: number): [number, number] {
  if (logarithmic) return [about * (from / about) ** factor, about * (to / about) ** factor];
  return [about + (from - about) * factor, about + (to - about) * factor];
}

/** The stretch that is seen when the axis is moved by a share of its length. */
export function moved({ from, to, logarithmic }: Scale, share: number): [number, number] {
  if (logarithmic) {
    const by = (to / from) ** share;
    return [from * by, to * by];
  }
  const by = (to - from) * share;
  return [from + by, to + by];
}
