import type { Point } from "../state/document";

/** Where the texts beside wires stand. */

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

export type Spot = Point & { vertical: boolean; room: boolean; heading: number };

export type TextSide = "left" | "right" | "above" | "below";

const LINE = 11;

export const textWidth = (letters: number) => Math.max(letters * 6, 12);

const meet = (a: Box, b: Box) => a.x < b.x + b.width && a.x + a.width > b.x && a.y < b.y + b.height && a.y + a.height > b.y;

/** Whether a text covers nothing. */
const isFree = (box: Box, obstacles: readonly Box[]) => !obstacles.some((o) => meet(box, o));

/**
 * The side of a stretch where a text covers nothing, with the room it takes; null where there is none.
 * @param named Whether the signal's name stands on the stretch, above it or at its right.
 * @param leftwards Beside an upright stretch the text belongs to the left, as another wire is near at its right.
 */
export function freeSide(place: Spot, lines: number, wide: number, named: boolean, leftwards: boolean, obstacles: readonly Box[]) {
  const tryAt = (side: TextSide): { side: TextSide; box: Box } | null => {
    const box = boxOf(place, side, lines, wide, named);
    return isFree(box, obstacles) ? { side, box } : null;
  };
  if (place.vertical) return leftwards ? tryAt("left") : (tryAt("right") ?? tryAt("left"));
  return tryAt("below") ?? (named || lines > 1 ? null : tryAt("above"));
}

function boxOf(place: Spot, side: TextSide, lines: number, width: number, named: boolean): Box {
  if (side === "below" || side === "above") {
    const box = { x: place.x - width / 2, y: side === "below" ? place.y + 5 : place.y - 15, width, height: LINE };
    return lines > 1 ? { ...box, y: place.y - 15, height: 31 } : box;
  }
  const y = place.y + (named ? 14 : 4) - (LINE * (lines - 1)) / 2 - 9;
  return { x: side === "right" ? place.x + 7 : place.x - 7 - width, y, width, height: LINE * lines };
}

/** How far from its wire a small picture stands. */
const BESIDE = 5;

/** A place beside a stretch where a box covers nothing; null where there is none. */
export function freeBox(place: Spot, { width, height }: { width: number; height: number }, obstacles: readonly Box[]): Box | null {
  const { x, y } = place;
  const places: Box[] = place.vertical
    ? [x + BESIDE, x - BESIDE - width].map((left) => ({ x: left, y: y - height / 2, width, height }))
    : [y - BESIDE - height, y + BESIDE].map((top) => ({ x: x - width / 2, y: top, width, height }));
  return places.find((box) => isFree(box, obstacles)) ?? null;
}

/** The room that a name takes on its stretch. */
export function nameBox(spot: Spot, width: number): Box {
  return spot.vertical
    ? { x: spot.x + 7, y: spot.y - 9, width, height: LINE }
    : { x: spot.x - width / 2, y: spot.y - 17, width, height: LINE };
}

/** A stretch with room for a text: the first level one that is long enough, else the longest. */
export function middle(points: Point[], wanted: number, height: number): Spot | null {
  let best: Spot | null = null;
  let longest = 0;
  for (let i = 1; i < points.length; i++) {
    const a = points[i - 1] as Point;
    const b = points[i] as Point;
    const length = Math.abs(a.x - b.x) + Math.abs(a.y - b.y);
    const vertical = a.x === b.x;
    const room = vertical ? length > height : length > wanted;
    const heading = vertical ? (b.y > a.y ? 1 : 3) : b.x > a.x ? 0 : 2;
    const spot = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, vertical, room, heading };
    if (room && !vertical) return spot;
    if (length > longest || (room && !best?.room)) {
      best = spot;
      longest = length;
    }
  }
  return best;
}
