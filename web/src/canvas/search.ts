import type { Point } from "../state/document";
import { isVertical, toward, type PortPlace } from "./geometry";
import { Heap } from "./heap";
import type { Item, Obstacles } from "./obstacles";
import { COST } from "./routeCosts";
import type { Request } from "./router";
import { Lines } from "./searchLines";
import type { Tracks } from "./tracks";

/** How far around its ends a way is searched for, and most corners that are looked at. */
const AROUND = 128;
const MOST_LOOKED_AT = 8_000;

/** The stub before a way's first corner; above a part its name is in the way. */
const STUB = 8;
const STUB_AT_TOP = 16;

/** A way longer than this is sought in more haste the longer it is, up to a limit, and need not be the very cheapest. */
const LONG = 800;
const MOST_HASTE = 3;

/** Right, down, left, up. */
const DIRECTION = { right: 0, bottom: 1, left: 2, top: 3 } as const;
const ACROSS = [1, 0, -1, 0] as const;
const DOWN = [0, 1, 0, -1] as const;

/** Going straight on, and the two turns. */
const TURNS = [0, 1, 3] as const;

/**
 * The cheapest right-angled way on a net of lines beside the parts: a best-first search with the distance as the least that is still to
 * come (Hart, Nilsson and Raphael, 1968; weighted for long ways after Pohl, 1970). Null where it is not found within the limits.
 */
export function search(request: Request, obstacles: Obstacles, moving: Obstacles | null, taken: Tracks): Point[] | null {
  const { from, to, net } = request;
  const [start, end] = [stubOf(from), stubOf(to)];
  const box = [
    Math.min(start.x, end.x) - AROUND,
    Math.min(start.y, end.y) - AROUND,
    Math.max(start.x, end.x) + AROUND,
    Math.max(start.y, end.y) + AROUND,
  ] as const;
  const near: readonly Item[] = moving ? [...obstacles.near(...box), ...moving.near(...box)] : obstacles.near(...box);
  const stretches = taken.within(...box, net);
  const columns = new Lines("x", [start.x, end.x], near, stretches);
  const rows = new Lines("y", [start.y, end.y], near, stretches);
  const [width, height] = [columns.count, rows.count];
  const [toX, toY] = [columns.indexOf(end.x), rows.indexOf(end.y)];
  const into = (DIRECTION[to.side] + 2) % 4;
  const haste = Math.min(MOST_HASTE, Math.max(1, (Math.abs(start.x - end.x) + Math.abs(start.y - end.y)) / LONG));

  // A state is a crossing of two lines and the direction that it was reached in.
  const stateOf = (x: number, y: number, direction: number) => (x * height + y) * 4 + direction;
  const least = new Float64Array(width * height * 4).fill(Infinity);
  const before = new Int32Array(width * height * 4).fill(-1);
  const done = new Uint8Array(width * height * 4);
  const open = new Heap();
  const push = (x: number, y: number, direction: number, cost: number, last: number) => {
    const state = stateOf(x, y, direction);
    if (cost >= (least[state] as number)) return;
    least[state] = cost;
    before[state] = last;
    const straight = direction === into && (into % 2 === 0 ? y === toY : x === toX);
    const still = Math.abs(columns.at(x) - end.x) + Math.abs(rows.at(y) - end.y) + (straight ? 0 : COST.bend);
    open.push(cost + haste * still, state);
  };
  push(columns.indexOf(start.x), rows.indexOf(start.y), DIRECTION[from.side], 0, -1);
  const goal = stateOf(toX, toY, into);
  for (let looked = 0; looked < MOST_LOOKED_AT; looked++) {
    const state = open.pop();
    if (state < 0) return null;
    if (state === goal) break;
    if (done[state]) continue;
    done[state] = 1;
    const direction = state % 4;
    const y = (state >> 2) % height;
    const x = Math.floor((state >> 2) / height);
    const cost = least[state] as number;
    for (const turn of TURNS) {
      const now = (direction + turn) % 4;
      const [nx, ny] = [x + (ACROSS[now] as number), y + (DOWN[now] as number)];
      if (nx < 0 || ny < 0 || nx >= width || ny >= height) continue;
      const step = now % 2 === 0 ? rows.step(y, columns, Math.min(x, nx)) : columns.step(x, rows, Math.min(y, ny));
      push(nx, ny, now, cost + step + (turn === 0 ? 0 : COST.bend), state);
    }
  }
  if (least[goal] === Infinity) return null;
  const points: Point[] = [{ x: to.x, y: to.y }];
  for (let state = goal; state >= 0; state = before[state] as number)
    points.push({ x: columns.at(Math.floor((state >> 2) / height)), y: rows.at((state >> 2) % height) });
  points.push({ x: from.x, y: from.y });
  return cornersOf(points.reverse());
}

/** Where a way has left its port. */
function stubOf(port: PortPlace): Point {
  if (isVertical(port.side)) return { x: port.x, y: port.side === "top" ? port.y - STUB_AT_TOP : port.y + STUB };
  return { x: port.x + (toward(port.side) || 1) * STUB, y: port.y };
}

/** A way without the points at which it goes straight on. */
const cornersOf = (points: readonly Point[]): Point[] =>
  points.filter((p, i) => {
    const [a, b] = [points[i - 1], points[i + 1]];
    return !a || !b || !((a.x === p.x && p.x === b.x) || (a.y === p.y && p.y === b.y));
  });
