import { describe, expect, test } from "vitest";
import { fromPixel, marksOf, moved, toPixel, zoomed, type Scale } from "./scale";

const linear: Scale = { from: -2, to: 8, start: 50, end: 550, logarithmic: false };
const decadesOf: Scale = { from: 0.1, to: 1000, start: 400, end: 0, logarithmic: true };

describe("a scale", () => {
  test("goes to pixels and back", () => {
    expect(toPixel(linear, 3)).toBe(300);
    expect(toPixel(decadesOf, 10)).toBeCloseTo(200);
    for (const scale of [linear, decadesOf])
      for (const value of [0.1, 1, 7.5]) expect(fromPixel(scale, toPixel(scale, value))).toBeCloseTo(value);
  });

  test("has labels at round values, powers of ten where it is logarithmic", () => {
    expect(marksOf(linear, 5).values).toEqual([-2, 0, 2, 4, 6, 8]);
    expect(marksOf(decadesOf, 5)).toEqual({ values: [0.1, 1, 10, 100, 1000], apart: 100 });
    expect(marksOf({ ...decadesOf, from: 2, to: 5 }, 3).values).toEqual([2, 3, 4, 5]);
  });

  test("is looked at more closely about a value that stays where it is", () => {
    const closer = zoomed(linear, 3, 0.5);
    expect(closer).toEqual([0.5, 5.5]);
    expect(toPixel({ ...linear, from: closer[0], to: closer[1] }, 3)).toBe(300);
    const [from, to] = zoomed(decadesOf, 10, 0.5);
    expect([from, to]).toEqual([expect.closeTo(1), expect.closeTo(100)]);
  });

  test("moves by a share of its length", () => {
    expect(moved(linear, 0.1)).toEqual([-1, 9]);
    expect(moved(decadesOf, 0.25)).toEqual([expect.closeTo(1), expect.closeTo(10000)]);
  });
});
