import { expect, test } from "vitest";
import { areas, filled, levels, lines } from "./contours";

test("levels are round and not too many", () => {
  expect(levels([[0.9, 5.5]], 10)).toEqual([1, 1.5, 2, 3, 4, 5]);
  const many = levels([[1e-3, 1e5]], 10);
  expect(many.length).toBeLessThanOrEqual(10);
  expect(many).toContain(100);
  expect(levels([[null, null]], 10)).toEqual([]);
});

test("a line runs where the logarithm has the level, from border to border", () => {
  const field = Array.from({ length: 5 }, () => [1, 10, 100, 1000]);
  const found = lines(field, Math.sqrt(1000));
  expect(found).toHaveLength(1);
  expect(found[0]?.every(([x]) => Math.abs(x - 1.5) < 1e-6)).toBe(true);
});

test("what is not known takes the nearest value, and its area is outlined", () => {
  const field = [
    [1, 2, null],
    [1, 2, null],
    [null, null, null],
  ];
  expect(filled(field)).toEqual([
    [1, 2, 2],
    [1, 2, 2],
    [1, 2, 2],
  ]);
  const land = areas(field, (v) => v === null);
  expect(land).toHaveLength(1);
  const xs = land[0]?.[0]?.map(([x]) => x) ?? [];
  expect(Math.max(...xs)).toBeGreaterThan(2);
});
