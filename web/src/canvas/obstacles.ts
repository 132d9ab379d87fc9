import RBush from "rbush";
import type { Point } from "../state/document";
import type { Box } from "./geometry";

/** A part that is in the way of wires. */
export interface Obstacle extends Box {
  id: string;
}

export interface Item {
  minX: number;
  minY: number;
  maxX: number;
  maxY: number;
  id: string;
}

/** Room that ways keep from parts, and above them, where the name stands. */
export const ROOM = 4;
export const NAME = 10;

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
