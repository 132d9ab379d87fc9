import { describe, expect, test } from "vitest";
import { smallPath } from "./SmallCurve";

const size = { width: 40, height: 14 };
const curve = (times: number[], values: number[]) => ({ times: Float64Array.from(times), values: Float64Array.from(values) });

describe("a small curve", () => {
  test("goes from the left edge to the right, the lowest value at the foot and the highest at the top", () => {
    expect(smallPath(curve([0, 1, 2], [0, 10, 5]), size)).toBe("M0.0 12.0L20.0 2.0L40.0 7.0");
  });

  test("of a constant lies in the middle", () => {
    expect(smallPath(curve([0, 4], [3, 3]), size)).toBe("M0.0 7.0L40.0 7.0");
  });

  test("is interrupted where values are missing", () => {
    expect(smallPath(curve([0, 1, 2, 3], [0, NaN, 1, 0]), size)).toBe("M0.0 12.0M26.7 2.0L40.0 12.0");
  });

  test("of a single point is none", () => {
    expect(smallPath(curve([0], [1]), size)).toBe("");
    expect(smallPath(undefined, size)).toBe("");
  });
});
