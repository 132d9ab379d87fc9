import type { Rect } from "./hitIndex";
import type { Viewport } from "./viewport";

/** Parts up to this number are all mounted: elements that stay are cheaper than deciding which to take away. */
export const ALWAYS_MOUNTED = 300;

/** More parts in view than this are painted on one canvas. */
export const MOST_MOUNTED = 240;

/** Steps in which the mounted area follows the view, as a share of it: within a step nothing is mounted or taken away. */
const STEP = 0.25;

export interface Size {
  width: number;
  height: number;
}

/** What a viewport shows, in diagram pixels, with at least a step more on each side. */
export function frameOf({ x, y, zoom }: Viewport, { width, height }: Size): Rect {
  const [w, h] = [(width / zoom) * STEP, (height / zoom) * STEP];
  const [left, top] = [Math.floor(-x / zoom / w) * w, Math.floor(-y / zoom / h) * h];
  const span = 1 / STEP + 2;
  return { minX: left - w, minY: top - h, maxX: left + span * w, maxY: top + span * h };
}

/** Exactly what a viewport shows. */
export function viewOf({ x, y, zoom }: Viewport, { width, height }: Size): Rect {
  return { minX: -x / zoom, minY: -y / zoom, maxX: (width - x) / zoom, maxY: (height - y) / zoom };
}

export const isSameRect = (a: Rect | null, b: Rect | null) =>
  a === b || (!!a && !!b && a.minX === b.minX && a.minY === b.minY && a.maxX === b.maxX && a.maxY === b.maxY);

/** The viewport moved so that a box is in view, by as little as it takes. */
export function revealing(v: Viewport, { width, height }: Size, box: Rect, margin = 48): Viewport {
  const shift = (low: number, high: number, size: number, offset: number) => {
    const [from, to] = [low * v.zoom + offset, high * v.zoom + offset];
    if (from < margin) return offset + margin - from;
    if (to > size - margin) return offset - Math.min(to - size + margin, from - margin);
    return offset;
  };
  return { zoom: v.zoom, x: shift(box.minX, box.maxX, width, v.x), y: shift(box.minY, box.maxY, height, v.y) };
}
