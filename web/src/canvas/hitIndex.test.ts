import { describe, expect, it } from "vitest";
import type { PartView } from "../api/client";
import type { PartNode } from "../state/document";
import { HitIndex } from "./hitIndex";

const node = (x: number, y: number): PartNode => ({ type: "Gain", name: "G", x, y, flip: false, turn: 0, parameters: {} });
const view = { width: 64, height: 48 } as PartView;
const index = new HitIndex(
  { a: node(0, 0), b: node(200, 100) },
  { a: view, b: view },
  new Map([
    [
      "w",
      [
        { x: 64, y: 24 },
        { x: 132, y: 24 },
        { x: 132, y: 124 },
        { x: 200, y: 124 },
      ],
    ],
  ]),
);

describe("the hit index", () => {
  it("finds a part by any point of it, its name included", () => {
    expect(index.at({ x: 30, y: 20 }, 6)).toEqual({ part: "a" });
    expect(index.at({ x: 30, y: -8 }, 6)).toEqual({ part: "a" });
    expect(index.at({ x: 30, y: 60 }, 6)).toEqual({});
  });

  it("finds a wire near its line and not in the corner that its box spans", () => {
    expect(index.at({ x: 134, y: 70 }, 6)).toEqual({ wire: "w" });
    expect(index.at({ x: 80, y: 110 }, 6)).toEqual({});
  });

  it("says what a rectangle touches", () => {
    const seen = index.within({ minX: 100, minY: 0, maxX: 260, maxY: 200 });
    expect([[...seen.parts], [...seen.wires]]).toEqual([["b"], ["w"]]);
    expect(index.within({ minX: 400, minY: 400, maxX: 500, maxY: 500 }).parts.size).toBe(0);
  });

  it("agrees with looking at every part, for many at random places", () => {
    const random = (
      (seed: number) => () =>
        (seed = (seed * 16807) % 2147483647) / 2147483647
    )(7);
    const parts = Object.fromEntries(Array.from({ length: 500 }, (_, i) => [`p${i}`, node(random() * 5000, random() * 3000)]));
    const many = new HitIndex(parts, Object.fromEntries(Object.keys(parts).map((id) => [id, view])), new Map());
    for (let n = 0; n < 50; n++) {
      const [x, y] = [random() * 5000, random() * 3000];
      const rect = { minX: x, minY: y, maxX: x + 600, maxY: y + 400 };
      const expected = Object.entries(parts).filter(
        ([, p]) => p.x <= rect.maxX && p.x + 64 >= rect.minX && p.y - 12 <= rect.maxY && p.y + 48 >= rect.minY,
      );
      expect(many.within(rect).parts).toEqual(new Set(expected.map(([id]) => id)));
    }
  });
});
