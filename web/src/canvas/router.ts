import type { Point } from "../state/document";
import type { Obstacles } from "./obstacles";
import { COST } from "./routeCosts";
import { search } from "./search";
import { Tracks } from "./tracks";
import { isVertical, route, toward, type PortPlace } from "./geometry";

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

/** A way that was found, and how many parts it runs through all the same. */
export interface Way {
  request: Request;
  points: Point[];
  hits: number;
}

/**
 * Right-angled ways for all wires: around parts, and not on top of each other. Ways that stay as they are come first; of the others the
 * short ones choose first. Each takes its plainest way where that is free, else the cheapest on a net of lines beside the parts.
 *
 * @param kept Ways of wires that nothing moved, by the id of the wire.
 */
export function findWays(
  requests: readonly Request[],
  obstacles: Obstacles,
  choices: (request: Request) => FirstChoice,
  moving: Obstacles | null,
  kept: (request: Request) => Way | undefined = () => undefined,
): Map<string, Way> {
  const taken = new Tracks();
  const ways = new Map<string, Way>();
  const settle = (way: Way) => {
    taken.add(way.points, way.request.net);
    ways.set(way.request.id, way);
  };
  const hitsOf = (request: Request, points: readonly Point[]) =>
    obstacles.hits(points, request.ends) + (moving?.hits(points, request.ends) ?? 0);
  const open: Request[] = [];
  for (const request of requests) {
    const way = kept(request);
    if (way) settle(way);
    else if (request.bends.length > 0) settle({ request, points: choices(request).points, hits: 0 });
    else open.push(request);
  }
  // What leaves a port has that place before all others.
  for (const { from, to, net } of open) for (const port of [from, to]) taken.add([port, before(port)], net);
  const length = (r: Request) => Math.abs(r.from.x - r.to.x) + Math.abs(r.from.y - r.to.y);
  const sorted = open.map((r) => ({ r, length: length(r) })).sort((a, b) => a.length - b.length || (a.r.id < b.r.id ? -1 : 1));
  for (const { r: request } of sorted) {
    const first = choices(request);
    const hits = first.hits + (moving?.hits(first.points, request.ends) ?? 0);
    if (hits === 0 && taken.shared(first.points, request.net) === 0) {
      settle({ request, points: first.points, hits });
      continue;
    }
    const cost = (points: readonly Point[], hit: number) => {
      return (
        COST.hit * hit +
        COST.shared * taken.shared(points, request.net) +
        COST.bend * (points.length - 2) +
        COST.crossing * taken.crossings(points, request.net) +
        lengthOf(points)
      );
    };
    const found = search(request, obstacles, moving, taken);
    const foundHits = found ? hitsOf(request, found) : 0;
    const isBetter = found && cost(found, foundHits) < cost(first.points, hits);
    settle(isBetter ? { request, points: found, hits: foundHits } : { request, points: first.points, hits });
  }
  return ways;
}

/** Where a wire is on its way from or to a port, with no corner between. */
function before(port: PortPlace): Point {
  if (isVertical(port.side)) return { x: port.x, y: port.side === "top" ? port.y - STUB : port.y + STUB };
  return { x: port.x + (toward(port.side) || 1) * STUB, y: port.y };
}

const STUB = 16;

function lengthOf(points: readonly Point[]): number {
  let length = 0;
  for (let i = 1; i < points.length; i++) {
    const [a, b] = [points[i - 1] as Point, points[i] as Point];
    length += Math.abs(a.x - b.x) + Math.abs(a.y - b.y);
  }
  return length;
}
