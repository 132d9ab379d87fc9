import RBush from "rbush";
import type { Point } from "../state/document";
import { defaultCoordinates, isVertical, route, snap, toward, type Box, type PortPlace } from "./geometry";

/** A wire that wants a way. */
export interface Request {
  id: string;
  from: PortPlace;
  to: PortPlace;
  /** Corners that the user set; a way with such is taken as it is. */
  bends: readonly Point[];
  /** What belongs together may share a way: the signal, or the physical connection. */
  net: string;
  /** The parts at the ends. */
  ends: readonly [string, string];
}

/** A part that is in the way of wires. */
export interface Obstacle extends Box {
  id: string;
}

interface Item {
  minX: number;
  minY: number;
  maxX: number;
  maxY: number;
  id: string;
}

/** Room that ways keep from parts, and above them, where the name stands. */
const ROOM = 4;
const NAME = 10;

/** Where parts lie. */
export class Obstacles {
  private readonly tree = new RBush<Item>();

  constructor(boxes: readonly Obstacle[]) {
    this.tree.load(
      boxes.map((b) => ({ id: b.id, minX: b.x - ROOM, minY: b.y - NAME, maxX: b.x + b.width + ROOM, maxY: b.y + b.height + ROOM })),
    );
  }

  /** How many parts a way runs through or along. Of the parts at its ends the stretch that leaves or arrives is on the edge. */
  hits(points: readonly Point[], ends: readonly [string, string]): number {
    let hits = 0;
    for (let i = 1; i < points.length; i++) {
      const [a, b] = [points[i - 1] as Point, points[i] as Point];
      const minX = Math.min(a.x, b.x);
      const maxX = Math.max(a.x, b.x);
      const minY = Math.min(a.y, b.y);
      const maxY = Math.max(a.y, b.y);
      for (const item of this.tree.search({ minX, minY, maxX, maxY })) {
        const isEnd = (i === 1 && item.id === ends[0]) || (i === points.length - 1 && item.id === ends[1]);
        const [left, top, right, bottom] = isEnd ? [ROOM + 1, NAME + 1, ROOM + 1, ROOM + 1] : [0, 0, 0, 0];
        if (maxX > item.minX + left && minX < item.maxX - right && maxY > item.minY + top && minY < item.maxY - bottom) hits++;
      }
    }
    return hits;
  }

  /** Boxes near a rectangle. */
  near(minX: number, minY: number, maxX: number, maxY: number): readonly Item[] {
    return this.tree.search({ minX, minY, maxX, maxY });
  }
}

interface Stretch {
  at: number;
  from: number;
  to: number;
  net: string;
}

/** How near two parallel stretches look like one. */
const APART = 6;
const BAND = 8;

/** The stretches that ways already take. */
class Taken {
  private readonly rows = new Map<number, Stretch[]>();
  private readonly columns = new Map<number, Stretch[]>();

  add(points: readonly Point[], net: string): void {
    this.each(points, (lines, at, from, to) => {
      const band = Math.round(at / BAND);
      const list = lines.get(band);
      if (list) list.push({ at, from, to, net });
      else lines.set(band, [{ at, from, to, net }]);
      return 0;
    });
  }

  /** The length that a way would share with those of other nets. */
  shared(points: readonly Point[], net: string): number {
    return this.each(points, (lines, at, from, to) => {
      let length = 0;
      const band = Math.round(at / BAND);
      for (let b = band - 1; b <= band + 1; b++)
        for (const s of lines.get(b) ?? [])
          if (s.net !== net && Math.abs(s.at - at) < APART) length += Math.max(0, Math.min(s.to, to) - Math.max(s.from, from));
      return length;
    });
  }

  /** How often a way would cross those of other nets. */
  crossings(points: readonly Point[], net: string): number {
    return this.each(points, (lines, at, from, to) => {
      const across = lines === this.rows ? this.columns : this.rows;
      // Long stretches cross many lines; beyond some it is long enough to be dear anyway.
      const most = Math.min(Math.round(to / BAND), Math.round(from / BAND) + 200);
      let count = 0;
      for (let band = Math.round(from / BAND); band <= most; band++)
        for (const s of across.get(band) ?? []) if (s.net !== net && s.at > from && s.at < to && s.from < at && s.to > at) count++;
      return count;
    });
  }

  private each(points: readonly Point[], of: (lines: Map<number, Stretch[]>, at: number, from: number, to: number) => number): number {
    let sum = 0;
    for (let i = 1; i < points.length; i++) {
      const [a, b] = [points[i - 1] as Point, points[i] as Point];
      if (a.y === b.y) sum += of(this.rows, a.y, Math.min(a.x, b.x), Math.max(a.x, b.x));
      else sum += of(this.columns, a.x, Math.min(a.y, b.y), Math.max(a.y, b.y));
    }
    return sum;
  }
}

/** What a way costs beside its length, in diagram pixels. */
const COST = { hit: 2000, shared: 400, bend: 24, crossing: 16 };

/** What the first choice of a way was found to be, so that it is not asked again. */
export interface FirstChoice {
  points: Point[];
  hits: number;
}

/** The first choice of a way: the plainest, whatever lies there. */
export const firstChoice = (request: Request, obstacles: Obstacles): FirstChoice => {
  const points = route(request.from, request.to, request.bends);
  return { points, hits: request.bends.length > 0 ? 0 : obstacles.hits(points, request.ends) };
};

/**
 * Right-angled ways for all wires: around parts, and not on top of each other. The short ones choose first, so that the result follows from the
 * diagram alone. Each takes its plainest way where that is free, else the cheapest of those through the gaps between the parts near it
 * (as channel routing does).
 */
export function findWays(
  requests: readonly Request[],
  obstacles: Obstacles,
  choices: (request: Request) => FirstChoice,
  moving: Obstacles | null,
): Map<string, Point[]> {
  const taken = new Taken();
  const ways = new Map<string, Point[]>();
  const settle = (request: Request, points: Point[]) => {
    taken.add(points, request.net);
    ways.set(request.id, points);
  };
  const open: Request[] = [];
  for (const request of requests) {
    if (request.bends.length > 0) settle(request, choices(request).points);
    else open.push(request);
  }
  const length = (r: Request) => Math.abs(r.from.x - r.to.x) + Math.abs(r.from.y - r.to.y);
  const sorted = open.map((r) => ({ r, length: length(r) })).sort((a, b) => a.length - b.length || (a.r.id < b.r.id ? -1 : 1));
  for (const { r: request } of sorted) {
    const first = choices(request);
    const hits = (points: readonly Point[]) => obstacles.hits(points, request.ends) + (moving?.hits(points, request.ends) ?? 0);
    const firstHits = first.hits + (moving?.hits(first.points, request.ends) ?? 0);
    if (firstHits === 0 && taken.shared(first.points, request.net) === 0) {
      settle(request, first.points);
      continue;
    }

    const cost = (points: readonly Point[], hit: number) =>
      COST.hit * hit +
      (taken.shared(points, request.net) > 0 ? COST.shared + taken.shared(points, request.net) : 0) +
      COST.bend * (points.length - 2) +
      COST.crossing * taken.crossings(points, request.net) +
      lengthOf(points);
    let [best, least] = [first.points, cost(first.points, firstHits)];
    for (const coordinates of alternatives(request, obstacles, moving)) {
      const points = route(request.from, request.to, [], coordinates);
      // What is longer than the best so far needs no looking into.
      if (COST.bend * (points.length - 2) + lengthOf(points) >= least) continue;
      const now = cost(points, hits(points));
      if (now < least) [best, least] = [points, now];
    }
    settle(request, best);
  }
  return ways;
}

function lengthOf(points: readonly Point[]): number {
  let length = 0;
  for (let i = 1; i < points.length; i++) {
    const [a, b] = [points[i - 1] as Point, points[i] as Point];
    length += Math.abs(a.x - b.x) + Math.abs(a.y - b.y);
  }
  return length;
}

/** The stub before a way's first corner, the least where there is no room, how much further others lie, and how many there are. */
const STUB = 16;
const LEAST = 8;
const LANE = 8;
const LANES = 5;

/** How far around its ends a way looks for gaps, and how many it looks at. */
const AROUND = 64;
const MOST_LEVELS = 24;

/** Ways worth trying, as the coordinates of their corners in turn. */
function* alternatives({ from, to }: Request, obstacles: Obstacles, moving: Obstacles | null): Generator<number[]> {
  const [startsUp, endsUp] = [isVertical(from.side), isVertical(to.side)];
  const box = [
    Math.min(from.x, to.x) - AROUND,
    Math.min(from.y, to.y) - AROUND,
    Math.max(from.x, to.x) + AROUND,
    Math.max(from.y, to.y) + AROUND,
  ] as const;
  const near = [...obstacles.near(...box), ...(moving?.near(...box) ?? [])];
  const leaving = stubs(from);
  const arriving = stubs(to);
  const levels = (low: (i: Item) => number, high: (i: Item) => number, a: number, b: number) => {
    const middle = snap((a + b) / 2);
    const all = new Set<number>();
    for (let i = 0; i < LANES; i++) for (const s of i === 0 ? [0] : [1, -1]) all.add(middle + s * i * LANE);
    for (const item of near)
      for (let i = 0; i < LANES - 2; i++) {
        all.add(Math.floor((low(item) - 4) / LANE) * LANE - i * LANE);
        all.add(Math.ceil((high(item) + 4) / LANE) * LANE + i * LANE);
      }
    return [...all].sort((p, q) => Math.abs(p - middle) - Math.abs(q - middle)).slice(0, MOST_LEVELS);
  };
  const columns = levels(
    (i) => i.minX,
    (i) => i.maxX,
    from.x,
    to.x,
  );
  const rows = levels(
    (i) => i.minY,
    (i) => i.maxY,
    from.y,
    to.y,
  );
  if (startsUp === endsUp) {
    const [across, along] = startsUp ? [rows, columns] : [columns, rows];
    const fits = (c: number) => leaves(from, c) && leaves(to, c);
    for (const c of across) if (fits(c)) yield [c];
    for (const a of leaving) for (const b of arriving) for (const level of along) yield [a, level, b];
  } else {
    const [ahead, level] = startsUp ? [to.y, from.x] : [to.x, from.y];
    if (leaves(from, ahead) && leaves(to, level)) yield [];
    for (const a of leaving) for (const c of startsUp ? columns : rows) if (leaves(to, c)) yield [a, c];
    // Around a part that lies between: out, along, and in from the far side.
    const across = startsUp ? rows : columns;
    for (const a of across) if (leaves(from, a)) for (const b of arriving) yield [a, b];
  }
  yield defaultCoordinates(from, to, LANE * 2);
}

/** Whether a corner at a coordinate lies before a port, with a stub between. */
function leaves(port: PortPlace, c: number): boolean {
  switch (port.side) {
    case "left":
      return c <= port.x - LEAST;
    case "right":
      return c >= port.x + LEAST;
    case "top":
      return c <= port.y - LEAST;
    case "bottom":
      return c >= port.y + LEAST;
  }
}

/** Coordinates of the first corner before a port. */
function stubs(port: PortPlace): number[] {
  const out = isVertical(port.side) ? (port.side === "bottom" ? 1 : -1) : toward(port.side) || 1;
  const base = isVertical(port.side) ? port.y : port.x;
  return [...Array.from({ length: LANES }, (_, i) => base + out * (STUB + LANE * i)), base + out * LEAST];
}
