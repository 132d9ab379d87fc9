import type { Point } from "../state/document";
import { APART } from "./routeCosts";

/** A stretch of a way. */
export interface Stretch {
  isRow: boolean;
  at: number;
  from: number;
  to: number;
  net: string;
  /** The question it was last looked at for, so that it counts once though it lies in several cells. */
  seen: number;
}

/** Side of the cells that stretches are kept by, in px. */
const CELL = 64;

const cell = (v: number) => Math.floor(v / CELL);
const keyOf = (x: number, y: number) => x * 0x10000 + y;

/** The stretches that ways already take, kept by the cells of a grid that they pass. */
export class Tracks {
  private readonly cells = new Map<number, Stretch[]>();
  private question = 0;

  add(points: readonly Point[], net: string): void {
    for (let i = 1; i < points.length; i++) {
      const [a, b] = [points[i - 1] as Point, points[i] as Point];
      const isRow = a.y === b.y;
      const stretch: Stretch = isRow
        ? { isRow, at: a.y, from: Math.min(a.x, b.x), to: Math.max(a.x, b.x), net, seen: 0 }
        : { isRow, at: a.x, from: Math.min(a.y, b.y), to: Math.max(a.y, b.y), net, seen: 0 };
      for (let along = cell(stretch.from); along <= cell(stretch.to); along++) {
        const key = isRow ? keyOf(along, cell(stretch.at)) : keyOf(cell(stretch.at), along);
        const list = this.cells.get(key);
        if (list) list.push(stretch);
        else this.cells.set(key, [stretch]);
      }
    }
  }

  /** The length that a way would share with those of other nets. */
  shared(points: readonly Point[], net: string): number {
    let length = 0;
    for (let i = 1; i < points.length; i++) length += this.sharedBy(points[i - 1] as Point, points[i] as Point, net);
    return length;
  }

  private sharedBy(a: Point, b: Point, net: string): number {
    let length = 0;
    this.each(a, b, APART, (s, isRow, at, from, to) => {
      if (s.isRow === isRow && s.net !== net && Math.abs(s.at - at) < APART)
        length += Math.max(0, Math.min(s.to, to) - Math.max(s.from, from));
    });
    return length;
  }

  /** How often a way would cross those of other nets. */
  crossings(points: readonly Point[], net: string): number {
    let count = 0;
    for (let i = 1; i < points.length; i++) count += this.crossingsBy(points[i - 1] as Point, points[i] as Point, net);
    return count;
  }

  private crossingsBy(a: Point, b: Point, net: string): number {
    let count = 0;
    this.each(a, b, 0, (s, isRow, at, from, to) => {
      if (s.isRow !== isRow && s.net !== net && s.at > from && s.at < to && s.from < at && s.to > at) count++;
    });
    return count;
  }

  private each(a: Point, b: Point, around: number, of: (s: Stretch, isRow: boolean, at: number, from: number, to: number) => void): void {
    const question = ++this.question;
    const isRow = a.y === b.y;
    const at = isRow ? a.y : a.x;
    const from = isRow ? Math.min(a.x, b.x) : Math.min(a.y, b.y);
    const to = isRow ? Math.max(a.x, b.x) : Math.max(a.y, b.y);
    for (let across = cell(at - around); across <= cell(at + around); across++)
      for (let along = cell(from); along <= cell(to); along++)
        for (const s of this.cells.get(isRow ? keyOf(along, across) : keyOf(across, along)) ?? [])
          if (s.seen !== question) {
            s.seen = question;
            of(s, isRow, at, from, to);
          }
  }

  /** The stretches of other nets that pass the cells of a rectangle. */
  within(minX: number, minY: number, maxX: number, maxY: number, net: string): Stretch[] {
    const question = ++this.question;
    const found: Stretch[] = [];
    for (let x = cell(minX); x <= cell(maxX); x++)
      for (let y = cell(minY); y <= cell(maxY); y++)
        for (const s of this.cells.get(keyOf(x, y)) ?? [])
          if (s.seen !== question) {
            s.seen = question;
            if (s.net !== net) found.push(s);
          }
    return found;
  }
}
