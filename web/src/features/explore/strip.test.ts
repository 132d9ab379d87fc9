import { expect, test } from "vitest";
import { cellAt, indexAt, layoutStrip } from "./strip";

test("few runs stand in one line, many in lines of whole tens", () => {
  expect(layoutStrip(7, 700, 160).lines).toBe(1);
  const many = layoutStrip(2000, 700, 160);
  expect(many.columns % 10).toBe(0);
  expect(many.lines * many.height).toBeLessThanOrEqual(161);
  expect(many.columns * many.width).toBeLessThanOrEqual(701);
});

test("every run is found where its cell lies", () => {
  for (const count of [1, 7, 400, 2000, 100_000]) {
    const l = layoutStrip(count, 700, 160);
    for (const index of [0, Math.floor(count / 2), count - 1]) {
      const cell = cellAt(l, index);
      expect(indexAt(l, count, cell.x + 0.3 * cell.width, cell.y + 0.3 * cell.height)).toBe(index);
    }
  }
});

test("beside the cells there is none", () => {
  const l = layoutStrip(7, 700, 160);
  expect(indexAt(l, 7, 5, 100)).toBeNull();
  expect(indexAt(l, 7, -3, 4)).toBeNull();
  expect(layoutStrip(0, 700, 160).lines).toBe(0);
});
