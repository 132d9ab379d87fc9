import RBush from "rbush";
import type { PartView } from "../api/client";
import type { PartNode, Point } from "../state/document";
import { nearestSegment } from "./geometry";
import type { Routes } from "./routes";

export interface Rect {
  minX: number;
  minY: number;
  maxX: number;
  maxY: number;
}

interface Item extends Rect {
  kind: "part" | "wire";
  id: string;
}

export interface Visible {
  parts: Set<string>;
  wires: Set<string>;
}

/** Room above a part for its name. */
const NAME = 12;

/** What lies where on a diagram: for what is in view, and for what is under the pointer where nothing is mounted. */
export class HitIndex {
  private readonly tree = new RBush<Item>();

  constructor(
    parts: Record<string, PartNode>,
    views: Record<string, PartView>,
    private readonly routes: Routes,
  ) {
    const items: Item[] = [];
    for (const [id, node] of Object.entries(parts)) {
      const view = views[id];
      if (view) items.push({ kind: "part", id, minX: node.x, minY: node.y - NAME, maxX: node.x + view.width, maxY: node.y + view.height });
    }
    for (const [id, points] of routes) {
      let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
      for (const p of points) {
        minX = Math.min(minX, p.x);
        minY = Math.min(minY, p.y);
        maxX = Math.max(maxX, p.x);
        maxY = Math.max(maxY, p.y);
      }
      if (points.length > 0) items.push({ kind: "wire", id, minX, minY, maxX, maxY });
    }
    this.tree.load(items);
  }

  /** What touches a rectangle. */
  within(rect: Rect): Visible {
    const result: Visible = { parts: new Set(), wires: new Set() };
    for (const item of this.tree.search(rect)) (item.kind === "part" ? result.parts : result.wires).add(item.id);
    return result;
  }

  /** The part at a point, else the wire nearest to it within a distance. */
  at(p: Point, reach: number): { part?: string; wire?: string } {
    const near = this.tree.search({ minX: p.x - reach, minY: p.y - reach, maxX: p.x + reach, maxY: p.y + reach });
    const part = near.find((i) => i.kind === "part" && p.x >= i.minX && p.x <= i.maxX && p.y >= i.minY && p.y <= i.maxY);
    if (part) return { part: part.id };
    let best: string | undefined;
    let least = reach;
    for (const item of near) {
      if (item.kind !== "wire") continue;
      const { distance } = nearestSegment(this.routes.get(item.id) ?? [], p);
      if (distance <= least) [best, least] = [item.id, distance];
    }
    return best === undefined ? {} : { wire: best };
  }
}
