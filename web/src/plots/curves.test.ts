import { describe, expect, test } from "vitest";
import { rangeOf, spanOf, type Line } from "./curves";

const line = (y: number[], more: Partial<Line> = {}): Line => ({ x: y.map((_, i) => i), y, color: "#000", ...more });

describe("the range of an axis", () => {
  test("is that of what is seen, with a little air", () => {
    const [low, high] = rangeOf([line([5, 6, 100])], [], 0, 1, false);
    expect(low).toBeLessThan(5);
    expect(high).toBeGreaterThan(6);
    expect(high).toBeLessThan(7);
  });

  test("takes no notice of other runs where there are present ones", () => {
    expect(rangeOf([line([1, 2]), line([0, 1000], { aside: true })], [], 0, 1, false)[1]).toBeLessThan(3);
    expect(rangeOf([line([0, 1000], { aside: true })], [], 0, 1, false)[1]).toBeGreaterThan(999);
  });

  test("holds both edges of a band", () => {
    const band = line([5, 6], { upTo: [9, 12] });
    expect(rangeOf([band], [], 0, 1, false)[0]).toBeLessThan(5);
    expect(rangeOf([band], [], 0, 1, false)[1]).toBeGreaterThan(12);
  });

  test("shows a limit that is near and not one far away", () => {
    const rule = (value: number) => [{ from: 0, to: 1, value, color: "" }];
    expect(rangeOf([line([1, 2])], rule(2.5), 0, 1, false)[1]).toBeGreaterThan(2.5);
    expect(rangeOf([line([1, 2])], rule(50), 0, 1, false)[1]).toBeLessThan(3);
  });

  test("is whole decades where it is logarithmic", () => {
    expect(rangeOf([line([0, 0.02, 30])], [], 0, 2, true)).toEqual([0.01, 100]);
    expect(rangeOf([], [], 0, 1, true)).toEqual([0.1, 10]);
    expect(spanOf([line([1, 2, 3])], true)).toEqual([1, 2]);
  });
});
