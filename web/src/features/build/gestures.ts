import type { PartView, PortView } from "../../api/client";
import { type Diagram, type Point, type PortReference } from "../../state/document";
import { connect, insertOnWire, snap } from "../../state/edits";
import { edit, here } from "../../state/model";
import { useBench } from "../../state/bench";
import { fits, nearestSegment, portPlace, route, type PortPlace } from "../../canvas/geometry";
import type { Tool } from "../../canvas/tools";

/** What gestures act on: the diagram and where its parts and wires are drawn. */
export interface Scene {
  diagram: Diagram;
  views: Record<string, PartView>;
  routes: ReadonlyMap<string, Point[]>;
}

type WireTool = Extract<Tool, { kind: "wire" }>;

/** Where a port is. */
export function placeOf({ diagram, views }: Scene, ref: PortReference): PortPlace {
  const node = diagram.parts[ref.part];
  const view = views[ref.part];
  return node && view ? portPlace(node, view, ref.port) : { x: 0, y: 0, side: "right" };
}

export const portOf = ({ views }: Pick<Scene, "views">, ref: PortReference): PortView | undefined =>
  views[ref.part]?.ports.find((p) => p.name === ref.port);

/** A port near the pointer that fits the other end of a wire being drawn. */
export function targetAt(scene: Scene, p: Point, from: PortReference): { part: string; port: string } | null {
  const own = portOf(scene, from);
  let best: { part: string; port: string } | null = null;
  let least = 18;
  for (const [id, node] of Object.entries(scene.diagram.parts)) {
    const view = scene.views[id];
    for (const port of view?.ports ?? []) {
      if (!view || !own || !fits(own, port) || (id === from.part && port.name === from.port)) continue;
      const q = portPlace(node, view, port.name);
      const d = Math.hypot(q.x - p.x, q.y - p.y);
      if (d < least) {
        least = d;
        best = { part: id, port: port.name };
      }
    }
  }
  return best;
}

/** A wire of the same physical domain under the pointer, which a new wire can join. */
function wireAt(scene: Scene, p: Point, from: PortReference): { id: string; corners: Point[] } | null {
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
    .filter(([id, n]) => n.x < x2 && n.x + Number(views[id]?.width ?? 0) > x1 && n.y < y2 && n.y + Number(views[id]?.height ?? 0) > y1)
    .map(([id]) => id);
}

/** Ends a wire: joins it to a port, or takes a pulled-off end away. True when it ends in the open and a part is to be offered. */
export function finishWire(scene: Scene, tool: WireTool, p: Point): boolean {
  const target = tool.target ?? targetAt(scene, p, tool.port);
  if (target) {
    const [from, to] = tool.isInput ? [target, tool.port] : [tool.port, target];
    connect(from, to, tool.bends.length > 0 ? branchCorners(scene, tool.port, tool.bends, target) : [], tool.replacing);
    return false;
  }
  const trunk = wireAt(scene, p, tool.port);
  const joined = trunk && scene.diagram.wires[trunk.id];
  if (trunk && joined) {
    connect(joined.from, tool.port, branchCorners(scene, joined.from, trunk.corners, tool.port));
    return false;
  }
  if (Math.hypot(p.x - tool.start.x, p.y - tool.start.y) < 12) return false;
  if (!tool.replacing) return true;
  edit("Disconnect", [{ op: "remove", path: here("wires", tool.replacing) }]);
  return false;
}

/** Corners of a branch: those of the trunk up to the branching point, then one towards the target. */
function branchCorners(scene: Scene, source: PortReference, trunk: Point[], target: PortReference): Point[] {
  const last = trunk[trunk.length - 1] as Point;
  const before = trunk[trunk.length - 2] ?? placeOf(scene, source);
  const end = placeOf(scene, target);
  const corner = before.x === last.x ? { x: end.x - 16, y: last.y } : { x: last.x, y: end.y };
  return [...trunk.map((b) => ({ x: snap(b.x), y: snap(b.y) })), corner];
}

/** A part without wires that is dropped on a wire goes into it. */
export function dropOnWire({ views, routes }: Scene, id: string, p: Point): void {
  const { diagram } = useBench.getState();
  const view = views[id];
  if (!view || Object.values(diagram.wires).some((w) => w.from.part === id || w.to.part === id)) return;
  for (const [wire, points] of routes) {
    const w = diagram.wires[wire];
    const domain = w && portOf({ views }, w.from)?.domain;
    if (!w || nearestSegment(points, p).distance >= 20) continue;
    const own = view.ports.filter((q) => (domain ? q.domain === domain : !q.domain));
    const input = domain ? own[0] : own.find((q) => q.isInput);
    const output = domain ? own[1] : own.find((q) => !q.isInput);
    if (input && output) return insertOnWire(wire, id, input.name, output.name);
  }
}

/** The way of a wire being drawn. */
export function draftPoints(scene: Scene, tool: WireTool): Point[] {
  const end = tool.target ? placeOf(scene, tool.target) : tool.now;
  if (tool.bends.length > 0) return [tool.start, { x: tool.start.x, y: end.y }, end];
  const start = placeOf(scene, tool.port);
  const side = tool.target ? placeOf(scene, tool.target).side : opposite[start.side];
  const [a, b] = [start, { ...end, side }];
  return tool.isInput ? route(b, a, []).reverse() : route(a, b, []);
}

const opposite = { left: "right", right: "left", top: "bottom", bottom: "top" } as const;
