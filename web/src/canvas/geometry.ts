import type { PartView, PortView } from "../api/client";
import type { PartNode, Point, WireNode } from "../state/document";

/** Where things are on the diagram. All lengths in diagram pixels; the grid is 8. */

export type Side = "left" | "right" | "top" | "bottom";

export interface PortPlace extends Point {
  side: Side;
}

export const GRID = 8;

export const snap = (v: number) => Math.round(v / GRID) * GRID;

const opposite: Record<Side, Side> = { left: "right", right: "left", top: "top", bottom: "bottom" };

/** How a part lies: mirrored first, then turned by quarters clockwise. */
export interface Pose {
  flip?: boolean;
  turn?: number;
}

const clockwise: Record<Side, Side> = { left: "top", top: "right", right: "bottom", bottom: "left" };

/** Place of a port relative to its part's upper left corner. */
export function portOffset(view: PartView, port: string, { flip, turn }: Pose): PortPlace {
  const turns = turnsOf(view, turn);
  const isAcross = turns % 2 === 1;
  // The size is that of the turned part.
  let [w, h] = isAcross ? [view.height, view.width] : [view.width, view.height];
  const own = view.ports.find((p) => p.name === port);
  let place = view.shape === "circle" ? onCircle(view, own, w, h) : onPlate(view, own, w, h);
  if (flip) place = { x: w - place.x, y: place.y, side: opposite[place.side] };
  for (let i = 0; i < turns; i++) {
    place = { x: h - place.y, y: place.x, side: clockwise[place.side] };
    [w, h] = [h, w];
  }
  return place;
}

/** Where on a part's edge a point is: the edge nearest to it, as it is before the part is mirrored and turned, and how many other ports of
 * that edge stand before. */
export function edgeAt(node: PartNode, view: PartView, port: string, at: Point): { side: Side; index: number } {
  let [x, y, w, h] = [at.x - node.x, at.y - node.y, view.width, view.height];
  for (let i = 0; i < turnsOf(view, node.turn); i++) [x, y, w, h] = [y, w - x, h, w];
  if (node.flip) x = w - x;
  const distances: [Side, number][] = [
    ["left", Math.abs(x)],
    ["right", Math.abs(w - x)],
    ["top", Math.abs(y)],
    ["bottom", Math.abs(h - y)],
  ];
  const side = distances.reduce((a, b) => (b[1] < a[1] ? b : a))[0];
  const along = (p: Point) => (isVertical(side) ? p.x : p.y);
  const others = view.ports.filter((p) => p.side === side && p.name !== port);
  return { side, index: others.filter((p) => along(onPlate(view, p, w, h)) < along({ x, y })).length };
}

/** Quarter turns of a part; the names of a bundle's members have to be read. */
export const turnsOf = (view: PartView, turn: number | undefined) => (view.shape === "bar" ? 0 : (turn ?? 0) % 4);

function onCircle(view: PartView, own: PortView | undefined, w: number, h: number): PortPlace {
  const isInput = own?.isInput ?? true;
  const same = view.ports.filter((p) => p.isInput === isInput);
  const index = Math.max(0, own ? same.indexOf(own) : 0);
  if (index > 2) return { x: w / 2 - 8 * (index - 1), y: h, side: "bottom" };
  const sides: Side[] = ["left", "bottom", "top"];
  const side = isInput ? (sides[index] ?? "left") : "right";
  if (side === "left") return { x: 0, y: h / 2, side };
  return side === "right" ? { x: w, y: h / 2, side } : { x: w / 2, y: side === "top" ? 0 : h, side };
}

function onPlate(view: PartView, own: PortView | undefined, w: number, h: number): PortPlace {
  const side = (own?.side ?? "left") as Side;
  const same = view.ports.filter((p) => p.side === side);
  const index = Math.max(0, own ? same.indexOf(own) : 0);
  const vertical = side === "top" || side === "bottom";
  const length = vertical ? w : h;
  const space = Math.max(16, GRID * Math.floor(length / (same.length + 1) / GRID));
  const along = length / 2 + (index - (same.length - 1) / 2) * space;
  if (vertical) return { x: along, y: side === "top" ? 0 : h, side };
  return { x: side === "left" ? 0 : w, y: along, side };
}

/** Whether a wire can join two ports: the server says what each takes. */
export const fits = (a: PortView, b: PortView): boolean => a.takes.includes(b.plug);

/** Whether a wire between two ports goes from the first to the second: a port that goes either way does as the other one. */
export const leaves = (own: PortView, other: PortView | undefined): boolean =>
  own.isEither && other && !other.isEither ? other.isInput : !own.isInput || !!own.domain;

export function portPlace(node: PartNode, view: PartView, port: string): PortPlace {
  const o = portOffset(view, port, node);
  return { x: node.x + o.x, y: node.y + o.y, side: o.side };
}

export const toward = (side: Side) => (side === "left" ? -1 : side === "right" ? 1 : 0);

export const isVertical = (side: Side) => side === "top" || side === "bottom";

/**
 * A right-angled way between two ports. The corners alternate between x and y, so that ends can move without losing their bends;
 * the first stretch leaves in the port's direction. Without bends the corners may be given by their coordinates in turn.
 */
export function route(from: PortPlace, to: PortPlace, bends: readonly Point[], corners?: readonly number[]): Point[] {
  const [start, end] = [isVertical(from.side), isVertical(to.side)];
  const alongX = (i: number) => (i % 2 === 0) !== start;
  let coordinates = bends.map((b, i) => (alongX(i) ? b.x : b.y));
  // The last stretch has to arrive in the port's direction.
  if (coordinates.length > 0 && coordinates.length % 2 === (start !== end ? 1 : 0)) coordinates = coordinates.slice(0, -1);
  if (coordinates.length === 0) coordinates = [...(corners ?? defaultCoordinates(from, to, 0))];
  const points: Point[] = [{ x: from.x, y: from.y }];
  let { x, y } = from;
  coordinates.forEach((c, i) => {
    if (alongX(i)) x = c;
    else y = c;
    points.push({ x, y });
  });
  if (end) points.push({ x: to.x, y });
  else points.push({ x, y: to.y });
  points.push({ x: to.x, y: to.y });
  return simplify(points);
}

/** Coordinates of the corners of the plainest way, in turn along and across the direction it starts in. */
export function defaultCoordinates(from: PortPlace, to: PortPlace, avoid: number): number[] {
  if (isVertical(from.side)) return isVertical(to.side) ? betweenVertical(from, to, avoid) : fromVertical(from, to);
  const out = toward(from.side) || 1;
  const stub = from.x + 16 * out;
  if (isVertical(to.side)) {
    const up = to.side === "bottom" ? 1 : -1;
    const ahead = (to.x - from.x) * out > 8;
    if (ahead && (from.y - to.y) * up > 8) return [];
    const level = up > 0 ? Math.max(from.y, to.y) + 24 + avoid : Math.min(from.y, to.y) - 24 - avoid;
    return [stub, level];
  }
  const into = -toward(to.side) || 1;
  const ahead = (to.x - from.x) * out;
  if (out === into && ahead > 0 && from.y === to.y) return [];
  if (out === into && ahead >= 16) return [snap((from.x + to.x) / 2)];
  if (out === into) {
    const apart = Math.abs(from.y - to.y) > 64;
    const level = apart ? snap((from.y + to.y) / 2) : Math.max(from.y, to.y) + 56 + avoid;
    return [stub, level, to.x - 16 * into];
  }
  return [out > 0 ? Math.max(stub, to.x + 16) : Math.min(stub, to.x - 16)];
}

/** From a port at the top or bottom to one at a side. */
function fromVertical(from: PortPlace, to: PortPlace): number[] {
  const down = from.side === "bottom" ? 1 : -1;
  const into = toward(to.side) || -1;
  if ((to.y - from.y) * down > 8 && (from.x - to.x) * into > 8) return [];
  return [from.y + 16 * down, to.x + 16 * into];
}

/** Between two ports at tops or bottoms. */
function betweenVertical(from: PortPlace, to: PortPlace, avoid: number): number[] {
  const down = from.side === "bottom" ? 1 : -1;
  if (from.side === to.side) return [down > 0 ? Math.max(from.y, to.y) + 24 + avoid : Math.min(from.y, to.y) - 24 - avoid];
  if ((to.y - from.y) * down >= 32) return [from.x === to.x ? to.y : snap((from.y + to.y) / 2)];
  return [from.y + 16 * down, snap((from.x + to.x) / 2) + (from.x === to.x ? 48 : 0), to.y - 16 * down];
}

function simplify(points: Point[]): Point[] {
  const result: Point[] = [];
  for (const p of points) {
    const a = result[result.length - 2];
    const b = result[result.length - 1];
    if (b && b.x === p.x && b.y === p.y) continue;
    if (a && b && ((a.x === b.x && b.x === p.x) || (a.y === b.y && b.y === p.y))) result[result.length - 1] = p;
    else result.push(p);
  }
  return result;
}

/** Corner points to store for a route that the user has bent. */
export const cornersOf = (points: readonly Point[]): Point[] => points.slice(1, -1).map((p) => ({ x: p.x, y: p.y }));

export const pathData = (points: readonly Point[]) => points.map((p, i) => `${i ? "L" : "M"}${p.x} ${p.y}`).join("");

/** The stretch of a route nearest to a point, with the distance. */
export function nearestSegment(points: readonly Point[], at: Point): { index: number; distance: number; point: Point } {
  let best = { index: 0, distance: Infinity, point: points[0] ?? at };
  for (let i = 1; i < points.length; i++) {
    const a = points[i - 1] as Point;
    const b = points[i] as Point;
    const x = Math.min(Math.max(at.x, Math.min(a.x, b.x)), Math.max(a.x, b.x));
    const y = Math.min(Math.max(at.y, Math.min(a.y, b.y)), Math.max(a.y, b.y));
    const distance = Math.hypot(at.x - x, at.y - y);
    if (distance < best.distance) best = { index: i - 1, distance, point: { x, y } };
  }
  return best;
}

/** Where wires of one source part: the dots of a branched wire. */
export function branchPoints(routes: readonly Point[][]): Point[] {
  const dots: Point[] = [];
  for (let i = 0; i < routes.length; i++)
    for (let j = i + 1; j < routes.length; j++) {
      const dot = divergence(routes[i] as Point[], routes[j] as Point[]);
      if (dot && !dots.some((d) => d.x === dot.x && d.y === dot.y)) dots.push(dot);
    }
  return dots;
}

function divergence(a: Point[], b: Point[]): Point | null {
  let at: Point = a[0] as Point;
  for (let i = 1, j = 1; i < a.length && j < b.length;) {
    const p = a[i] as Point;
    const q = b[j] as Point;
    const da = { x: Math.sign(p.x - at.x), y: Math.sign(p.y - at.y) };
    const db = { x: Math.sign(q.x - at.x), y: Math.sign(q.y - at.y) };
    if (da.x !== db.x || da.y !== db.y) return at === a[0] ? null : at;
    const la = Math.abs(p.x - at.x) + Math.abs(p.y - at.y);
    const lb = Math.abs(q.x - at.x) + Math.abs(q.y - at.y);
    if (la <= lb) {
      at = p;
      i++;
      if (la === lb) j++;
    } else {
      at = q;
      j++;
    }
  }
  return at;
}

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

export function boundsOf(boxes: readonly Box[]): Box {
  if (boxes.length === 0) return { x: 0, y: 0, width: 400, height: 200 };
  const x = Math.min(...boxes.map((b) => b.x));
  const y = Math.min(...boxes.map((b) => b.y));
  return { x, y, width: Math.max(...boxes.map((b) => b.x + b.width)) - x, height: Math.max(...boxes.map((b) => b.y + b.height)) - y };
}

/** The wires of one source, by the port they come from. */
export function wiresBySource(wires: Record<string, WireNode>): Map<string, string[]> {
  const result = new Map<string, string[]>();
  for (const [id, w] of Object.entries(wires)) {
    const key = `${w.from.part}.${w.from.port}`;
    result.set(key, [...(result.get(key) ?? []), id]);
  }
  return result;
}
