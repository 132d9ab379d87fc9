import type { PartView } from "../api/client";
import type { Diagram, PartNode, Point, WireNode } from "../state/document";
import { portPlace, route, wiresBySource } from "./geometry";

/** Parts that are being dragged, and how far. */
export interface Shift {
  ids: ReadonlySet<string>;
  dx: number;
  dy: number;
}

export type Routes = ReadonlyMap<string, Point[]>;

/** What a route follows from. As long as none of it changes the route stays the same object. */
interface Source {
  wire: WireNode;
  ends: readonly [PartNode, PartNode, PartView, PartView];
  moved: readonly [number, number, number, number];
  lane: number;
  points: Point[];
}

const still = { dx: 0, dy: 0 };

/** Distance between ways that would lie on each other, and how many are told apart. */
const LANE = 8;
const LANES = 4;

/** Routes of all wires, of which only those are made anew that something has changed for. */
export class RouteCache {
  private sources = new Map<string, Source>();
  private last: Routes = new Map();

  /** The routes with some parts shifted; the same map as before where all routes are. */
  routes(diagram: Pick<Diagram, "parts" | "wires">, views: Record<string, PartView>, shift: Shift | null): Routes {
    const now = new Map<string, Source>();
    let changed = false;
    let lane = 0;
    for (const ids of wiresBySource(diagram.wires).values()) {
      lane = (lane + 1) % LANES;
      for (const id of ids) {
        const source = this.source(id, diagram, views, shift, lane);
        if (!source) continue;
        changed ||= source !== this.sources.get(id);
        now.set(id, source);
      }
    }
    changed ||= now.size !== this.sources.size;
    this.sources = now;
    if (changed) this.last = new Map([...now].map(([id, s]) => [id, s.points]));
    return this.last;
  }

  private source(
    id: string,
    diagram: Pick<Diagram, "parts" | "wires">,
    views: Record<string, PartView>,
    shift: Shift | null,
    lane: number,
  ): Source | null {
    const wire = diagram.wires[id];
    if (!wire) return null;
    const [a, b] = [diagram.parts[wire.from.part], diagram.parts[wire.to.part]];
    const [va, vb] = [views[wire.from.part], views[wire.to.part]];
    if (!a || !b || !va || !vb) return null;
    const by = (part: string) => (shift?.ids.has(part) ? shift : still);
    const [sa, sb] = [by(wire.from.part), by(wire.to.part)];
    const before = this.sources.get(id);
    const moved = [sa.dx, sa.dy, sb.dx, sb.dy] as const;
    if (
      before?.wire === wire &&
      before.lane === lane &&
      before.ends[0] === a &&
      before.ends[1] === b &&
      before.ends[2] === va &&
      before.ends[3] === vb &&
      moved.every((d, i) => d === before.moved[i])
    )
      return before;
    const from = portPlace({ ...a, x: a.x + sa.dx, y: a.y + sa.dy }, va, wire.from.port);
    const to = portPlace({ ...b, x: b.x + sb.dx, y: b.y + sb.dy }, vb, wire.to.port);
    // A wire between two parts that move alike moves as a whole.
    const together = sa.dx === sb.dx && sa.dy === sb.dy;
    const bends = together ? wire.bends.map((p) => ({ x: p.x + sa.dx, y: p.y + sa.dy })) : wire.bends;
    const points = route(from, to, bends, LANE * lane);
    const same =
      before && before.points.length === points.length && before.points.every((p, i) => p.x === points[i]?.x && p.y === points[i]?.y);
    return { wire, ends: [a, b, va, vb], moved, lane, points: same ? before.points : points };
  }
}
