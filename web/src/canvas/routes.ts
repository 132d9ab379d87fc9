import type { PartView } from "../api/client";
import type { Diagram, PartNode, Point, PortReference, WireNode } from "../state/document";
import { portPlace, type PortPlace } from "./geometry";
import { Obstacles, type Obstacle } from "./obstacles";
import { findWays, firstChoice, type FirstChoice, type Request, type Way } from "./router";

/** Parts that are being dragged, and how far. */
export interface Shift {
  ids: ReadonlySet<string>;
  dx: number;
  dy: number;
}

export type Routes = ReadonlyMap<string, Point[]>;

type Plan = Pick<Diagram, "parts" | "wires">;
type Views = Record<string, PartView>;

/** What a way is asked for with. As long as none of it changes the request stays the same object. */
interface Source {
  wire: WireNode;
  ends: readonly [PartNode, PartNode, PartView, PartView];
  moved: readonly [number, number, number, number];
  net: string;
  request: Request;
}

const still = { dx: 0, dy: 0 };

/**
 * Routes of all wires. What follows from a part of the diagram alone is kept as long as that part stays, and so is the way of a wire that
 * nothing moved: dragging a part changes its own wires alone. Nothing is kept of another diagram, which is laid out from its own.
 */
export class RouteCache {
  private sources = new Map<string, Source>();
  private last: Routes = new Map();
  private lastRequests: readonly Request[] = [];
  private nets: { plan: Plan; views: Views; of: Map<string, string> } | null = null;
  private lying: { parts: Diagram["parts"]; views: Views; without: ReadonlySet<string> | null; obstacles: Obstacles } | null = null;
  private lastShift: Shift | null = null;
  /** The ways before a drag; those of wires that nothing moves stay. */
  private settled: ReadonlyMap<string, Way> = new Map();
  /** The parts as the settled ways have them around them, and those that lie elsewhere or are new. */
  private boxes: readonly Obstacle[] = [];
  private moved: Obstacles | null = null;
  private choices = new WeakMap<Request, FirstChoice>();

  /** The routes with some parts shifted; the same map as before where all routes are. */
  routes(diagram: Plan, views: Views, shift: Shift | null): Routes {
    const nets = this.netsOf(diagram, views);
    const now = new Map<string, Source>();
    const requests: Request[] = [];
    for (const id of Object.keys(diagram.wires)) {
      // What is drawn by its name needs no way.
      if (diagram.wires[id]?.byName) continue;
      const source = this.source(id, diagram, views, shift, nets);
      if (!source) continue;
      now.set(id, source);
      requests.push(source.request);
    }
    this.sources = now;
    const hadObstacles = this.lying?.obstacles;
    const lying = this.lyingOf(diagram, views, shift?.ids ?? null);
    const isSame =
      lying === hadObstacles &&
      shift?.dx === this.lastShift?.dx &&
      shift?.dy === this.lastShift?.dy &&
      requests.length === this.lastRequests.length &&
      requests.every((r, i) => r === this.lastRequests[i]);
    this.lastShift = shift;
    this.lastRequests = requests;
    if (isSame) return this.last;
    const moving = shift ? new Obstacles(boxesOf(diagram, views, (id) => shift.ids.has(id), shift)) : null;
    const ways = findWays(
      requests,
      lying,
      (r) => this.choice(r, lying),
      moving,
      (r) => this.kept(r, lying, moving),
    );
    if (!shift) [this.settled, this.moved] = [ways, null];
    let changed = ways.size !== this.last.size;
    const result = new Map<string, Point[]>();
    for (const { id } of requests) {
      const { points } = ways.get(id) as Way;
      const before = this.last.get(id);
      const kept = before && isSameWay(before, points) ? before : points;
      changed ||= kept !== before;
      result.set(id, kept);
    }
    if (changed) this.last = result;
    return this.last;
  }

  /** The way that a wire has already: it stays where both ends are and nothing else has come to lie there. */
  private kept(request: Request, lying: Obstacles, moving: Obstacles | null): Way | undefined {
    const way = this.settled.get(request.id);
    if (!way || !isSameRequest(way.request, request)) return undefined;
    // What was taken away is in nobody's way any more.
    const isClear = (moved: Obstacles | null) => !moved || moved.hits(way.points, request.ends) === 0;
    if (isClear(moving) && isClear(this.moved)) return way.request === request ? way : { ...way, request };
    const hits = lying.hits(way.points, request.ends) + (moving?.hits(way.points, request.ends) ?? 0);
    return hits <= way.hits ? { ...way, request } : undefined;
  }

  private choice(request: Request, lying: Obstacles): FirstChoice {
    const known = this.choices.get(request);
    if (known) return known;
    const made = firstChoice(request, lying);
    this.choices.set(request, made);
    return made;
  }

  /** The parts that lie still. */
  private lyingOf(diagram: Plan, views: Views, without: ReadonlySet<string> | null): Obstacles {
    const { lying } = this;
    if (lying && lying.parts === diagram.parts && lying.without === without && isSameViews(lying.views, views)) return lying.obstacles;
    const boxes = boxesOf(diagram, views, (id) => !without?.has(id), still);
    const obstacles = new Obstacles(boxes);
    if (!without) {
      const before = new Map(this.boxes.map((b) => [b.id, b]));
      this.moved = new Obstacles(boxes.filter((b) => !isSameBox(before.get(b.id), b)));
      this.boxes = boxes;
    }
    this.lying = { parts: diagram.parts, views, without, obstacles };
    this.choices = new WeakMap();
    return obstacles;
  }

  /** By wire, the net it belongs to: the port it comes from, or all ports that physical wires join. */
  private netsOf(plan: Plan, views: Views): Map<string, string> {
    if (this.nets && this.nets.plan.wires === plan.wires && this.nets.views === views) return this.nets.of;
    const of = new Map<string, string>();
    const joined = new Map<string, string>();
    const root = (key: string): string => {
      let at = key;
      for (let next = joined.get(at); next !== undefined; next = joined.get(at)) at = next;
      return at;
    };
    const isPhysical = (p: PortReference) => !!views[p.part]?.ports.find((q) => q.name === p.port)?.domain;
    for (const w of Object.values(plan.wires)) {
      if (!isPhysical(w.from)) continue;
      const [a, b] = [root(keyOf(w.from)), root(keyOf(w.to))];
      if (a !== b) joined.set(b, a);
    }
    for (const [id, w] of Object.entries(plan.wires)) of.set(id, root(keyOf(w.from)));
    this.nets = { plan, views, of };
    return of;
  }

  private source(id: string, diagram: Plan, views: Views, shift: Shift | null, nets: Map<string, string>): Source | null {
    const wire = diagram.wires[id];
    if (!wire) return null;
    const [a, b] = [diagram.parts[wire.from.part], diagram.parts[wire.to.part]];
    const [va, vb] = [views[wire.from.part], views[wire.to.part]];
    if (!a || !b || !va || !vb) return null;
    const by = (part: string) => (shift?.ids.has(part) ? shift : still);
    const [sa, sb] = [by(wire.from.part), by(wire.to.part)];
    const before = this.sources.get(id);
    const moved = [sa.dx, sa.dy, sb.dx, sb.dy] as const;
    const net = nets.get(id) as string;
    if (
      before?.wire === wire &&
      before.net === net &&
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
    const request: Request = { id, from, to, bends, net, ends: [wire.from.part, wire.to.part] };
    return { wire, ends: [a, b, va, vb], moved, net, request };
  }
}

const keyOf = (p: PortReference) => `${p.part}.${p.port}`;

function* boxesIn(diagram: Plan, views: Views, wanted: (id: string) => boolean, by: { dx: number; dy: number }) {
  for (const [id, node] of Object.entries(diagram.parts)) {
    const view = views[id];
    if (view && wanted(id)) yield { id, x: node.x + by.dx, y: node.y + by.dy, width: view.width, height: view.height };
  }
}

const boxesOf = (...args: Parameters<typeof boxesIn>) => [...boxesIn(...args)];

const isSameBox = (a: Obstacle | undefined, b: Obstacle) => a?.x === b.x && a.y === b.y && a.width === b.width && a.height === b.height;

const isSamePlace = (a: PortPlace, b: PortPlace) => a.x === b.x && a.y === b.y && a.side === b.side;

const isSameRequest = (a: Request, b: Request) =>
  a === b ||
  (a.net === b.net &&
    isSamePlace(a.from, b.from) &&
    isSamePlace(a.to, b.to) &&
    a.bends.length === b.bends.length &&
    a.bends.every((p, i) => p.x === b.bends[i]?.x && p.y === b.bends[i]?.y));

const isSameWay = (a: readonly Point[], b: readonly Point[]) =>
  a.length === b.length && a.every((p, i) => p.x === b[i]?.x && p.y === b[i]?.y);

/** Whether all parts look as before; what a run shows is no reason to lay wires anew. */
function isSameViews(a: Views, b: Views): boolean {
  if (a === b) return true;
  const keys = Object.keys(b);
  return keys.length === Object.keys(a).length && keys.every((k) => a[k] === b[k]);
}
