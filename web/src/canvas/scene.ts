import type { PartView, PortView } from "../api/client";
import type { Diagram, Point, PortReference } from "../state/document";
import { fits, nearestSegment, portPlace, route, snap, type PortPlace } from "./geometry";
import type { WireTool } from "./tools";

/** What gestures act on: the diagram and where its parts and wires are drawn. */
export interface Scene {
  diagram: Diagram;
  views: Record<string, PartView>;
  routes: ReadonlyMap<string, Point[]>;
}

/** Where a port is. */
export function placeOf({ diagram, views }: Scene, ref: PortReference): PortPlace {
  const node = diagram.parts[ref.part];
  const view = views[ref.part];
  return node && view ? portPlace(node, view, ref.port) : { x: 0, y: 0, side: "right" };
}

export const portOf = ({ views }: Pick<Scene, "views">, ref: PortReference): PortView | undefined =>
  views[ref.part]?.ports.find((p) => p.name === ref.port);

/** How near a port must be to be meant, in diagram pixels. */
const NEAR = 18;

/** The port nearest to a place among some of the parts, of those that are asked for. */
function nearestPort(
  scene: Scene,
  p: Point,
  parts: readonly string[],
  wanted: (part: string, port: PortView) => boolean,
  reach: number,
): PortReference | null {
  let best: PortReference | null = null;
  let least = reach;
  for (const id of parts) {
    const [node, view] = [scene.diagram.parts[id], scene.views[id]];
    if (!node || !view) continue;
    for (const port of view.ports) {
      if (!wanted(id, port)) continue;
      const q = portPlace(node, view, port.name);
      const d = Math.hypot(q.x - p.x, q.y - p.y);
      if (d < least) [least, best] = [d, { part: id, port: port.name }];
    }
  }
  return best;
}

/** Stands for a member that a bundle gets when a signal is dropped on it. */
export const NEW_MEMBER = "+";

/** Whether signals can be put into the bundle of a part: it joins them, or is a port for a bundle, which has all at one side. */
const joins = (view: PartView) =>
  view.shape === "bar" &&
  (view.ports.some((p) => p.name === "bundle" && !p.isInput) || view.ports.every((p) => p.side === view.ports[0]?.side));

/** The port that a wire being drawn would end at: one near the pointer that fits, else the nearest of the part under it, a free one first. */
export function targetAt(scene: Scene, p: Point, from: PortReference): { part: string; port: string } | null {
  const own = portOf(scene, from);
  if (!own) return null;
  const suits = (part: string, port: PortView) => fits(own, port) && !(part === from.part && port.name === from.port);
  const near = nearestPort(scene, p, Object.keys(scene.diagram.parts), suits, NEAR);
  // A port that is aimed at and does not fit is no slip of the hand.
  if (near || refusingPort(scene, p, from)) return near;
  const under = Object.entries(scene.diagram.parts).find(([id, n]) => {
    const view = scene.views[id];
    return view && id !== from.part && p.x >= n.x && p.x <= n.x + view.width && p.y >= n.y && p.y <= n.y + view.height;
  });
  if (!under) return null;
  const wired = new Set(Object.values(scene.diagram.wires).flatMap((w) => [`${w.from.part}.${w.from.port}`, `${w.to.part}.${w.to.port}`]));
  const free = (part: string, port: PortView) =>
    suits(part, port) && (!port.isInput || !!port.domain || !wired.has(`${part}.${port.name}`));
  const port = nearestPort(scene, p, [under[0]], free, Infinity);
  const view = scene.views[under[0]];
  if (!port && view && joins(view) && !own.isInput && !own.domain) return { part: under[0], port: NEW_MEMBER };
  return port ?? nearestPort(scene, p, [under[0]], suits, Infinity);
}

/** A port near the pointer that a wire cannot end at. */
export function refusingPort(scene: Scene, p: Point, from: PortReference): PortReference | null {
  const own = portOf(scene, from);
  const refuses = (part: string, port: PortView) => !!own && !fits(own, port) && !(part === from.part && port.name === from.port);
  return nearestPort(scene, p, Object.keys(scene.diagram.parts), refuses, NEAR);
}

/** A wire of the same physical domain under the pointer, which a new wire can join. */
export function wireAt(scene: Scene, p: Point, from: PortReference): { id: string; corners: Point[] } | null {
  const domain = portOf(scene, from)?.domain;
  if (!domain) return null;
  for (const [id, points] of scene.routes) {
    const w = scene.diagram.wires[id];
    if (!w || portOf(scene, w.from)?.domain !== domain) continue;
    if (w.from.part === from.part && w.from.port === from.port) continue;
    const near = nearestSegment(points, p);
    if (near.distance < 8) return { id, corners: [...points.slice(1, near.index + 1), near.point] };
  }
  return null;
}

/** Parts that a box touches. */
export function partsInBox({ diagram, views }: Scene, a: Point, b: Point): string[] {
  const [x1, x2] = [Math.min(a.x, b.x), Math.max(a.x, b.x)];
  const [y1, y2] = [Math.min(a.y, b.y), Math.max(a.y, b.y)];
  return Object.entries(diagram.parts)
    .filter(([id, n]) => n.x < x2 && n.x + (views[id]?.width ?? 0) > x1 && n.y < y2 && n.y + (views[id]?.height ?? 0) > y1)
    .map(([id]) => id);
}

/** Corners of a branch: those of the trunk up to the branching point, then one towards the target. */
export function branchCorners(scene: Scene, source: PortReference, trunk: Point[], target: PortReference): Point[] {
  const last = trunk[trunk.length - 1] as Point;
  const before = trunk[trunk.length - 2] ?? placeOf(scene, source);
  const end = placeOf(scene, target);
  const corner = before.x === last.x ? { x: end.x - 16, y: last.y } : { x: last.x, y: end.y };
  return [...trunk.map((b) => ({ x: snap(b.x), y: snap(b.y) })), corner];
}

/** Where on a wire a part without wires goes that is dropped there; null where it goes nowhere. */
export function insertionAt(scene: Scene, id: string, p: Point): { wire: string; input: string; output: string } | null {
  const view = scene.views[id];
  if (!view || Object.values(scene.diagram.wires).some((w) => w.from.part === id || w.to.part === id)) return null;
  for (const [wire, points] of scene.routes) {
    const w = scene.diagram.wires[wire];
    if (!w || nearestSegment(points, p).distance >= 20) continue;
    const domain = portOf(scene, w.from)?.domain;
    const own = view.ports.filter((q) => (domain ? q.domain === domain : !q.domain));
    const input = domain ? own[0] : own.find((q) => q.isInput);
    const output = domain ? own[1] : own.find((q) => !q.isInput);
    if (input && output) return { wire, input: input.name, output: output.name };
  }
  return null;
}

/** The way of a wire being drawn in the open. */
export function draftPoints(scene: Scene, tool: WireTool): Point[] {
  const end = tool.now;
  if (tool.bends.length > 0) return [tool.start, { x: tool.start.x, y: end.y }, end];
  const start = placeOf(scene, tool.port);
  const side = opposite[start.side];
  const [a, b] = [start, { ...end, side }];
  return tool.isInput ? route(b, a, []).reverse() : route(a, b, []);
}

const opposite = { left: "right", right: "left", top: "bottom", bottom: "top" } as const;
