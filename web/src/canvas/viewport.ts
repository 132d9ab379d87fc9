import type { Point } from "../state/document";

/** What of the diagram is seen: screen = diagram · zoom + offset. */
export interface Viewport {
  x: number;
  y: number;
  zoom: number;
}

export const toDiagram = (v: Viewport, p: Point): Point => ({ x: (p.x - v.x) / v.zoom, y: (p.y - v.y) / v.zoom });

/** Zooms about a fixed point of the screen. */
export function zoomAt(v: Viewport, at: Point, factor: number): Viewport {
  const zoom = Math.min(3, Math.max(0.1, v.zoom * factor));
  return { zoom, x: at.x - ((at.x - v.x) * zoom) / v.zoom, y: at.y - ((at.y - v.y) * zoom) / v.zoom };
}
