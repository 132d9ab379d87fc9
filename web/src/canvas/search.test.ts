import { describe, expect, it } from "vitest";
import type { Point } from "../state/document";
import { Obstacles, type Obstacle } from "./obstacles";
import type { Request } from "./router";
import { search } from "./search";
import { Tracks } from "./tracks";

const request = (from: Request["from"], to: Request["to"]): Request => ({ id: "w", from, to, bends: [], net: "n", ends: ["p", "q"] });
const out = (x: number, y: number, side: "right" | "left" | "top" | "bottom" = "right") => ({ x, y, side });

const length = (points: readonly Point[]) =>
  points.reduce(
    (sum, p, i) => sum + (i === 0 ? 0 : Math.abs(p.x - (points[i - 1] as Point).x) + Math.abs(p.y - (points[i - 1] as Point).y)),
    0,
  );

describe("a way that is searched for", () => {
  it("is the straight one where nothing lies between", () =>
    expect(search(request(out(0, 0), out(400, 0, "left")), new Obstacles([]), null, new Tracks())).toEqual([
      { x: 0, y: 0 },
      { x: 400, y: 0 },
    ]));

  it("goes around a wall on the shorter side, with four corners and no more than it must", () => {
    const wall: Obstacle = { id: "o", x: 180, y: -40, width: 40, height: 400 };
    const way = search(request(out(0, 0), out(400, 0, "left")), new Obstacles([wall]), null, new Tracks()) ?? [];
    expect(way).toHaveLength(6);
    // Above the wall, with room for its name.
    expect(Math.min(...way.map((p) => p.y))).toBeLessThanOrEqual(-50);
    expect(length(way)).toBeLessThan(400 + 2 * 80);
  });

  it("goes around parts that are being dragged as around others", () => {
    const dragged = new Obstacles([{ id: "o", x: 180, y: -40, width: 40, height: 80 }]);
    const way = search(request(out(0, 0), out(400, 0, "left")), new Obstacles([]), dragged, new Tracks()) ?? [];
    expect(dragged.hits(way, ["p", "q"])).toBe(0);
  });

  it("keeps beside a wire of another signal", () => {
    const taken = new Tracks();
    taken.add([out(-100, 80), out(600, 80)], "other");
    const way = search(request(out(0, 0), out(400, 160, "left")), new Obstacles([]), null, taken) ?? [];
    expect(taken.shared(way, "n")).toBe(0);
    expect(taken.crossings(way, "n")).toBe(1);
  });

  it("leaves and arrives in the direction of its ports", () => {
    for (const from of ["right", "left", "top", "bottom"] as const)
      for (const to of ["right", "left", "top", "bottom"] as const) {
        const way = search(request(out(0, 0, from), out(300, 200, to)), new Obstacles([]), null, new Tracks()) ?? [];
        const [first, second, last, before] = [way[0], way[1], way.at(-1), way.at(-2)] as [Point, Point, Point, Point];
        const isAhead = (port: Point, next: Point, side: string) =>
          side === "right" ? next.x > port.x : side === "left" ? next.x < port.x : side === "top" ? next.y < port.y : next.y > port.y;
        expect([from, to, isAhead(first, second, from), isAhead(last, before, to)]).toEqual([from, to, true, true]);
      }
  });
});
