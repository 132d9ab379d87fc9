import type { Chart, ChartState, ChartTransition, Point } from "../../state/document";

/** Where things of a chart lie, in chart pixels: states as boxes, transitions as curves from border to border. */

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Ends and control points of a cubic curve (Bézier). */
export interface Way {
  from: Point;
  c1: Point;
  c2: Point;
  to: Point;
  /** Where its text stands, and at which side of the line. */
  label: Point;
  anchor: "start" | "middle" | "end";
  /** Whether the text stands above the line, below it, or around its height. */
  side: "above" | "below" | "beside";
}

/** Size of what has no size of its own. */
export const DOT = 22;

/** How far states stand from the edge of the one around them: at the sides, and below its name. */
export const MARGIN = 20;
export const HEAD = 36;

/** How far apart transitions between the same two states lie. */
const APART = 30;

export const isSmall = (s: Pick<ChartState, "kind">) => s.kind !== "state" && s.kind !== "parallel";

export const boxOf = (s: ChartState): Box =>
  isSmall(s) ? { x: s.x, y: s.y, width: DOT, height: DOT } : { x: s.x, y: s.y, width: s.width, height: s.height };

export const middle = (b: Box): Point => ({ x: b.x + b.width / 2, y: b.y + b.height / 2 });

export const contains = (b: Box, p: Point) => p.x >= b.x && p.x <= b.x + b.width && p.y >= b.y && p.y <= b.y + b.height;

/** Ids of the states in a state, at any depth. */
export function within(chart: Chart, id: string): string[] {
  const inner = Object.entries(chart.states).filter(([, s]) => s.parent === id);
  return inner.flatMap(([i]) => [i, ...within(chart, i)]);
}

/** How deep a state stands in others. */
export function depthOf(chart: Chart, id: string): number {
  let depth = 0;
  for (let at = chart.states[id]?.parent; at && depth < 50; at = chart.states[at]?.parent) depth++;
  return depth;
}

/** Ids of states, those around others first. */
export const outerFirst = (chart: Chart): string[] =>
  Object.keys(chart.states)
    .map((id) => [id, depthOf(chart, id)] as const)
    .sort((a, b) => a[1] - b[1])
    .map(([id]) => id);

/** The innermost state that can take others at a point, but none of those left out. */
export function stateAround(chart: Chart, at: Point, without: ReadonlySet<string>): string | null {
  let found: string | null = null;
  for (const id of outerFirst(chart)) {
    const s = chart.states[id] as ChartState;
    if (!without.has(id) && !isSmall(s) && contains(boxOf(s), at)) found = id;
  }
  return found;
}

/** Where the line from a point inside a box towards another point leaves the box. */
function leaves(b: Box, from: Point, towards: Point): Point {
  const [dx, dy] = [towards.x - from.x, towards.y - from.y];
  const tx = dx > 0 ? (b.x + b.width - from.x) / dx : dx < 0 ? (b.x - from.x) / dx : Infinity;
  const ty = dy > 0 ? (b.y + b.height - from.y) / dy : dy < 0 ? (b.y - from.y) / dy : Infinity;
  const t = Math.min(tx, ty);
  return Number.isFinite(t) ? { x: from.x + dx * t, y: from.y + dy * t } : { x: b.x + b.width, y: from.y };
}

const clamp = (v: number, low: number, high: number) => (low > high ? (low + high) / 2 : Math.min(high, Math.max(low, v)));

const overlap = (a0: number, a1: number, b0: number, b1: number) => [Math.max(a0, b0), Math.min(a1, b1)] as const;

/** A way between two boxes. `place` and `count` say which of the transitions between the same two it is. */
export function wayBetween(a: Box, b: Box, place: number, count: number, bend: Point | undefined, backwards: boolean): Way {
  const shift = (place - (count - 1) / 2) * APART;
  if (bend) return throughBend(a, b, bend);
  if (holds(a, b) || holds(b, a)) return inOrOut(a, b, shift);
  const [x0, x1] = overlap(a.x, a.x + a.width, b.x, b.x + b.width);
  const [y0, y1] = overlap(a.y, a.y + a.height, b.y, b.y + b.height);
  if (y1 - y0 > 16) {
    const y = clamp((y0 + y1) / 2 + shift, y0 + 8, y1 - 8);
    const right = b.x > a.x;
    const from = { x: right ? a.x + a.width : a.x, y };
    const to = { x: right ? b.x : b.x + b.width, y };
    return arc(from, to, backwards ? 12 : -12, backwards ? "below" : "above");
  }
  if (x1 - x0 > 16) {
    const x = clamp((x0 + x1) / 2 + shift, x0 + 8, x1 - 8);
    const down = b.y > a.y;
    const from = { x, y: down ? a.y + a.height : a.y };
    const to = { x, y: down ? b.y : b.y + b.height };
    const way = arc(from, to, backwards ? -10 : 10, "beside");
    // What lies at the right of the others has its text at the right.
    const right = shift > 0 || (shift === 0 && !backwards);
    return { ...way, label: { x: way.label.x + (right ? 8 : -8), y: way.label.y }, anchor: right ? "start" : "end" };
  }
  const [ma, mb] = [middle(a), middle(b)];
  const length = Math.hypot(mb.x - ma.x, mb.y - ma.y) || 1;
  const normal = { x: (-(mb.y - ma.y) / length) * shift, y: ((mb.x - ma.x) / length) * shift };
  const fa = { x: clamp(ma.x + normal.x, a.x, a.x + a.width), y: clamp(ma.y + normal.y, a.y, a.y + a.height) };
  const fb = { x: clamp(mb.x + normal.x, b.x, b.x + b.width), y: clamp(mb.y + normal.y, b.y, b.y + b.height) };
  return arc(leaves(a, fa, fb), leaves(b, fb, fa), backwards ? 16 : -16, "beside");
}

const holds = (outer: Box, inner: Box) =>
  inner.x >= outer.x &&
  inner.y >= outer.y &&
  inner.x + inner.width <= outer.x + outer.width &&
  inner.y + inner.height <= outer.y + outer.height;

/** From a state to one inside it, or out of one to the state around it: along the shortest way to the edge. */
function inOrOut(a: Box, b: Box, shift: number): Way {
  const goesIn = holds(a, b);
  const [outer, inner] = goesIn ? [a, b] : [b, a];
  const m = middle(inner);
  const gaps = [
    inner.x - outer.x,
    outer.x + outer.width - inner.x - inner.width,
    inner.y - outer.y,
    outer.y + outer.height - inner.y - inner.height,
  ];
  const nearest = gaps.indexOf(Math.min(...gaps));
  const edges: [Point, Point][] = [
    [
      { x: outer.x, y: m.y + shift },
      { x: inner.x, y: m.y + shift },
    ],
    [
      { x: outer.x + outer.width, y: m.y + shift },
      { x: inner.x + inner.width, y: m.y + shift },
    ],
    [
      { x: m.x + shift, y: outer.y },
      { x: m.x + shift, y: inner.y },
    ],
    [
      { x: m.x + shift, y: outer.y + outer.height },
      { x: m.x + shift, y: inner.y + inner.height },
    ],
  ];
  const [edge, near] = edges[nearest] as [Point, Point];
  const way = goesIn ? arc(edge, near, 0, "beside") : arc(near, edge, 0, "beside");
  return { ...way, label: { x: way.label.x + 8, y: way.label.y }, anchor: "start" };
}

function arc(from: Point, to: Point, lift: number, side: Way["side"]): Way {
  const length = Math.hypot(to.x - from.x, to.y - from.y) || 1;
  const normal = { x: (-(to.y - from.y) / length) * lift, y: ((to.x - from.x) / length) * lift };
  const up = from.x <= to.x ? normal : { x: -normal.x, y: -normal.y };
  const at = (t: number) => ({ x: from.x + (to.x - from.x) * t + up.x, y: from.y + (to.y - from.y) * t + up.y });
  const mid = { x: (from.x + to.x) / 2 + up.x * 0.75, y: (from.y + to.y) / 2 + up.y * 0.75 };
  return { from, c1: at(0.33), c2: at(0.67), to, label: mid, anchor: "middle", side };
}

/** A curve through a point that somebody has dragged it to. */
function throughBend(a: Box, b: Box, bend: Point): Way {
  const from = leaves(a, middle(a), contains(a, bend) ? { x: bend.x, y: bend.y + 1e-3 } : bend);
  const to = leaves(b, middle(b), contains(b, bend) ? { x: bend.x, y: bend.y + 1e-3 } : bend);
  // A quadratic curve whose middle is the bend, raised to a cubic one.
  const control = { x: 2 * bend.x - (from.x + to.x) / 2, y: 2 * bend.y - (from.y + to.y) / 2 };
  const third = (p: Point) => ({ x: p.x + ((control.x - p.x) * 2) / 3, y: p.y + ((control.y - p.y) * 2) / 3 });
  return { from, c1: third(from), c2: third(to), to, label: bend, anchor: "middle", side: "beside" };
}

/** A loop at the upper right corner of a state that leads to itself. */
function loop(a: Box, place: number): Way {
  const x = a.x + a.width - 14 - place * 24;
  const from = { x, y: a.y };
  const to = { x: a.x + a.width, y: a.y + 14 + place * 20 };
  return {
    from,
    c1: { x, y: a.y - 42 },
    c2: { x: a.x + a.width + 42, y: to.y },
    to,
    label: { x: a.x + a.width + 26, y: a.y - 20 - place * 16 },
    anchor: "start",
    side: "beside",
  };
}

/** The ways of all transitions that lead somewhere, by id. */
export function waysOf(chart: Chart): Map<string, Way> {
  const between = new Map<string, string[]>();
  for (const [id, t] of Object.entries(chart.transitions)) {
    if (!t.to) continue;
    const key = [t.from, t.to].sort().join(" ");
    between.set(key, [...(between.get(key) ?? []), id]);
  }
  const ways = new Map<string, Way>();
  for (const ids of between.values())
    ids.forEach((id, place) => {
      const t = chart.transitions[id] as ChartTransition;
      const [a, b] = [chart.states[t.from], chart.states[t.to as string]];
      if (!a || !b) return;
      const [first] = ids;
      const backwards = t.from !== chart.transitions[first as string]?.from;
      ways.set(id, t.from === t.to ? loop(boxOf(a), place) : wayBetween(boxOf(a), boxOf(b), place, ids.length, t.bends[0], backwards));
    });
  return ways;
}

export const pathOf = (w: Way) => `M${w.from.x} ${w.from.y}C${w.c1.x} ${w.c1.y} ${w.c2.x} ${w.c2.y} ${w.to.x} ${w.to.y}`;

/** A point of a way, from 0 to 1. */
export function pointAt({ from, c1, c2, to }: Way, t: number): Point {
  const s = 1 - t;
  const of = (p: "x" | "y") => s * s * s * from[p] + 3 * s * s * t * c1[p] + 3 * s * t * t * c2[p] + t * t * t * to[p];
  return { x: of("x"), y: of("y") };
}

/** How far a point is from a way. */
export function distanceTo(w: Way, p: Point): number {
  let least = Infinity;
  for (let i = 0; i <= 24; i++) {
    const q = pointAt(w, i / 24);
    least = Math.min(least, Math.hypot(q.x - p.x, q.y - p.y));
  }
  return least;
}
