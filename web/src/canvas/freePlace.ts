import type { Point } from "../state/document";

/** Upper left corner and size of something on the diagram. */
export interface Rectangle extends Point {
  width: number;
  height: number;
}

const STEP = 16;
const GAP = 8;
const RINGS = 60;

const overlap = (a: Rectangle, b: Rectangle) =>
  a.x < b.x + b.width + GAP && b.x < a.x + a.width + GAP && a.y < b.y + b.height + GAP && b.y < a.y + a.height + GAP;

/** The place nearest to the wanted one where a rectangle lies on no other. */
export function freePlace(wanted: Rectangle, taken: readonly Rectangle[]): Point {
  const isFree = (x: number, y: number) => !taken.some((t) => overlap({ ...wanted, x, y }, t));
  if (isFree(wanted.x, wanted.y)) return { x: wanted.x, y: wanted.y };
  for (let ring = 1; ring <= RINGS; ring++) {
    const places: Point[] = [];
    for (let i = -ring; i <= ring; i++)
      for (const [dx, dy] of [
        [i, ring],
        [i, -ring],
        [ring, i],
        [-ring, i],
      ] as const)
        places.push({ x: wanted.x + dx * STEP, y: wanted.y + dy * STEP });
    places.sort((a, b) => Math.hypot(a.x - wanted.x, a.y - wanted.y) - Math.hypot(b.x - wanted.x, b.y - wanted.y));
    const free = places.find((p) => isFree(p.x, p.y));
    if (free) return free;
  }
  return { x: wanted.x, y: wanted.y };
}

/** What of the diagram is in view, for commands that place something without a pointer. */
export const inView = { middle: { x: 160, y: 160 } as Point };
