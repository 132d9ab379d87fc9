import type { Point, PortReference } from "../state/document";

/** What the pointer is doing. Every gesture is one of these states; edits are made when it ends. */
export type Tool =
  | { kind: "idle" }
  | { kind: "pan"; start: Point; offset: Point }
  | { kind: "box"; start: Point; now: Point; add: boolean }
  | { kind: "move"; start: Point; dx: number; dy: number; ids: ReadonlySet<string>; copy: boolean; clicked: string; moved: boolean }
  | {
      kind: "wire";
      port: PortReference;
      isInput: boolean;
      start: Point;
      now: Point;
      bends: Point[];
      replacing?: string;
      target: { part: string; port: string } | null;
    }
  | { kind: "segment"; wire: string; index: number; vertical: boolean; points: Point[]; start: Point; now: Point };

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

/** Corner points of a route whose stretch has been dragged to the pointer. */
export function draggedCorners(points: readonly Point[], index: number, vertical: boolean, now: Point): Point[] {
  const moved = points.map((p, i) =>
    i === index || i === index + 1 ? (vertical ? { x: now.x, y: p.y } : { x: p.x, y: now.y }) : { ...p },
  );
  const first = points[0] as Point;
  const last = points[points.length - 1] as Point;
  const result: Point[] = moved.slice(1, -1);
  // Dragging a stretch that ends at a port leaves a short stub there.
  if (index === 0 && !vertical) result.unshift({ x: first.x + 16, y: first.y }, { x: first.x + 16, y: now.y });
  if (index + 1 === points.length - 1 && !vertical) result.push({ x: last.x - 16, y: now.y }, { x: last.x - 16, y: last.y });
  return result;
}
