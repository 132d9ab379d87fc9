import type { ElkNode } from "elkjs/lib/elk-api";
import type { PartView } from "../api/client";
import type { Diagram, Point } from "../state/document";
import { portOffset, snap } from "./geometry";

/** Where parts and areas come to stand. */
export interface Places {
  parts: Record<string, Point>;
  areas: Record<string, Point & { width: number; height: number }>;
}

type Views = Record<string, PartView>;

/** Room for the name above a part. */
const NAME = 14;

const options = {
  "elk.algorithm": "layered",
  "elk.direction": "RIGHT",
  "elk.hierarchyHandling": "INCLUDE_CHILDREN",
  "elk.edgeRouting": "ORTHOGONAL",
  "elk.layered.cycleBreaking.strategy": "DEPTH_FIRST",
  "elk.layered.feedbackEdges": "true",
  "elk.layered.nodePlacement.strategy": "NETWORK_SIMPLEX",
  "elk.layered.nodePlacement.favorStraightEdges": "true",
  "elk.layered.considerModelOrder.strategy": "NODES_AND_EDGES",
  "elk.layered.spacing.nodeNodeBetweenLayers": "48",
  "elk.spacing.nodeNode": "32",
  "elk.spacing.edgeNode": "16",
  "elk.spacing.edgeEdge": "8",
  "elk.spacing.componentComponent": "56",
};

const sides = { left: "WEST", right: "EAST", top: "NORTH", bottom: "SOUTH" } as const;

const holds = (a: Diagram["areas"][string], p: Point, v: PartView) =>
  p.x >= a.x && p.y >= a.y && p.x + v.width <= a.x + a.width && p.y + v.height <= a.y + a.height;

/** The smallest area that holds each part; parts of an area stay in it. */
function areasOf(diagram: Diagram, views: Views, ids: ReadonlySet<string>): Map<string, string> {
  const areas = Object.entries(diagram.areas).sort((a, b) => a[1].width * a[1].height - b[1].width * b[1].height);
  const result = new Map<string, string>();
  for (const id of ids) {
    const [node, view] = [diagram.parts[id], views[id]];
    const area = node && view ? areas.find(([, a]) => holds(a, node, view)) : undefined;
    if (area) result.set(id, area[0]);
  }
  return result;
}

/** Parts with their ports where they are, areas around theirs, and the wires between them, for a layered layout. */
export function graphOf(diagram: Diagram, views: Views, ids: ReadonlySet<string>): ElkNode {
  const within = areasOf(diagram, views, ids);
  // An area that also holds parts which stay is no matter of this layout.
  for (const area of new Set(within.values())) {
    const all = Object.keys(diagram.parts).filter((id) => {
      const [node, view] = [diagram.parts[id], views[id]];
      return node && view && holds(diagram.areas[area] as Diagram["areas"][string], node, view);
    });
    if (all.some((id) => !ids.has(id))) for (const [id, a] of within) if (a === area) within.delete(id);
  }
  const inOrder = [...ids].filter((id) => diagram.parts[id] && views[id]).sort((a, b) => order(diagram, a, b));
  const node = (id: string): ElkNode => {
    const view = views[id] as PartView;
    return {
      id,
      width: view.width,
      height: view.height + NAME,
      layoutOptions: { "elk.portConstraints": "FIXED_POS" },
      ports: view.ports.map((p) => {
        const o = portOffset(view, p.name, diagram.parts[id] ?? {});
        return { id: `${id}.${p.name}`, x: o.x, y: o.y + NAME, width: 0, height: 0, layoutOptions: { "elk.port.side": sides[o.side] } };
      }),
    };
  };
  const ports = new Set(inOrder.flatMap((id) => (views[id] as PartView).ports.map((p) => `${id}.${p.name}`)));
  return {
    id: "level",
    layoutOptions: options,
    children: [
      ...inOrder.filter((id) => !within.has(id)).map(node),
      ...[...new Set(within.values())].map((area) => ({
        id: `area ${area}`,
        layoutOptions: { ...options, "elk.padding": "[top=32,left=24,bottom=32,right=24]" },
        children: inOrder.filter((id) => within.get(id) === area).map(node),
      })),
    ],
    edges: Object.entries(diagram.wires).flatMap(([id, w]) => {
      const [from, to] = [`${w.from.part}.${w.from.port}`, `${w.to.part}.${w.to.port}`];
      return !w.byName && ports.has(from) && ports.has(to) ? [{ id, sources: [from], targets: [to] }] : [];
    }),
  };
}

/** Reading order: what stands at the left first. */
const order = (diagram: Diagram, a: string, b: string) => {
  const [p, q] = [diagram.parts[a], diagram.parts[b]];
  return p && q ? p.x - q.x || p.y - q.y : 0;
};

/** Where a layout puts parts and areas, with its upper left corner where theirs was. */
export function placesOf(laid: ElkNode, diagram: Diagram, ids: ReadonlySet<string>): Places {
  const parts: Places["parts"] = {};
  const areas: Places["areas"] = {};
  const corner = {
    x: Math.min(...[...ids].map((id) => diagram.parts[id]?.x ?? Infinity)),
    y: Math.min(...[...ids].map((id) => diagram.parts[id]?.y ?? Infinity)),
  };
  const found: { id: string; x: number; y: number }[] = [];
  const walk = (node: ElkNode, dx: number, dy: number) => {
    for (const child of node.children ?? []) {
      const [x, y] = [dx + (child.x ?? 0), dy + (child.y ?? 0)];
      if (child.id.startsWith("area ")) {
        areas[child.id.slice(5)] = { x, y, width: child.width ?? 0, height: child.height ?? 0 };
        walk(child, x, y);
      } else found.push({ id: child.id, x, y: y + NAME });
    }
  };
  walk(laid, 0, 0);
  const [left, top] = [Math.min(...found.map((f) => f.x)), Math.min(...found.map((f) => f.y))];
  for (const f of found) parts[f.id] = { x: snap(f.x - left + corner.x), y: snap(f.y - top + corner.y) };
  for (const [id, a] of Object.entries(areas))
    areas[id] = { x: snap(a.x - left + corner.x), y: snap(a.y - top + corner.y), width: snap(a.width), height: snap(a.height) };
  return { parts, areas };
}

/** The diagram with parts and areas in other places; wires at parts that move find their ways anew. */
export function withPlaces(diagram: Diagram, places: Places): Diagram {
  const parts = { ...diagram.parts };
  for (const [id, at] of Object.entries(places.parts)) if (parts[id]) parts[id] = { ...parts[id], ...at };
  const areas = { ...diagram.areas };
  for (const [id, at] of Object.entries(places.areas)) if (areas[id]) areas[id] = { ...areas[id], ...at };
  const wires = Object.fromEntries(
    Object.entries(diagram.wires).map(([id, w]) => [
      id,
      w.bends.length > 0 && (w.from.part in places.parts || w.to.part in places.parts) ? { ...w, bends: [] } : w,
    ]),
  );
  return { ...diagram, parts, areas, wires };
}
