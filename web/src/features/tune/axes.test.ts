import { expect, test } from "vitest";
import { axisTicks, pathOf, valueAt } from "./axes";

const log = (from: number, to: number) => ({ from, to, start: 0, end: 100, logarithmic: true });

test("a logarithmic axis has as many round values as there is room for", () => {
  expect(axisTicks(log(5, 50), 9)).toEqual([5, 7, 10, 20, 30, 50]);
  expect(axisTicks(log(1, 1000), 6)).toEqual([1, 10, 100, 1000]);
  expect(axisTicks(log(1e-6, 1e6), 5).length).toBeLessThanOrEqual(6);
});

test("a curve is read between its points and nowhere else", () => {
  expect(valueAt([0, 1, 2], [0, 10, 0], 1.5)).toBe(5);
  expect(valueAt([0, 1, 2], [0, 10, 0], 3)).toBeNull();
  expect(valueAt([], [], 0)).toBeNull();
});

test("what lies far outside stays near", () => {
  const linear = { from: 0, to: 1, start: 0, end: 100, logarithmic: false };
  expect(pathOf({ x: [0, 1], y: [0, 1e12] }, linear, linear)).toBe("M0.0 0.0L100.0 500.0");
});
