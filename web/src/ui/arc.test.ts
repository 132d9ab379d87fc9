import { describe, expect, it } from "vitest";
import { arcPath } from "./arc";

/** The numbers of an arc's path: start, radius, long, direction, end. */
const numbers = (path: string) => (path.match(/-?\d+(\.\d+)?(e-?\d+)?/g) ?? []).map(Number);

describe("arcPath", () => {
  it("draws half a circle through its top", () => {
    const [x1, y1, radius, , , , sweep, x2, y2] = numbers(arcPath({ x: 0, y: 10 }, { x: 10, y: 0 }, { x: 20, y: 10 }));
    expect([x1, y1, x2, y2]).toEqual([0, 10, 20, 10]);
    expect(radius).toBeCloseTo(10, 12);
    expect(sweep).toBe(1);
  });

  it("goes the other way round through its bottom", () => {
    expect(numbers(arcPath({ x: 0, y: 10 }, { x: 10, y: 20 }, { x: 20, y: 10 }))[6]).toBe(0);
  });

  it("takes the long way where the second point lies beyond the middle", () => {
    // Of a circle of radius 10 about (0, 0): from 45° below the right through the left to 45° above the right.
    const r = 10 * Math.SQRT1_2;
    expect(numbers(arcPath({ x: r, y: r }, { x: -10, y: 0 }, { x: r, y: -r }))[5]).toBe(1);
    expect(numbers(arcPath({ x: r, y: r }, { x: 10, y: 0 }, { x: r, y: -r }))[5]).toBe(0);
  });

  it("is a line where all three points lie on one", () => {
    expect(arcPath({ x: 0, y: 0 }, { x: 5, y: 5 }, { x: 10, y: 10 })).not.toContain("A");
  });
});
