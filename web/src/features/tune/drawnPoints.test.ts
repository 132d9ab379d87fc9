import { describe, expect, test } from "vitest";
import { byKey, moved, usual } from "./drawnPoints";

describe("points of a drawn loop", () => {
  const points = usual(2);

  test("begin as an integrator with the bandwidth", () => {
    expect(points).toEqual([
      { frequency: 0.2, gain: 20 },
      { frequency: 2, gain: 0 },
      { frequency: 20, gain: -20 },
    ]);
  });

  test("go where they are dragged, the others stay", () => {
    const there = moved(points, 1, { frequency: 3, gain: 4 });
    expect(there.map((p) => p.gain)).toEqual([20, 4, -20]);
    expect(points[1]?.gain).toBe(0);
  });

  test("are moved and taken away by keys, and leave other keys alone", () => {
    expect(byKey(points, 0, "ArrowUp")?.[0]?.gain).toBe(21);
    expect(byKey(points, 0, "ArrowDown")?.[0]?.gain).toBe(19);
    expect(byKey(points, 1, "ArrowRight")?.[1]?.frequency).toBeCloseTo(2.1);
    expect(byKey(points, 1, "ArrowLeft")?.[1]?.frequency).toBeCloseTo(2 / 1.05);
    expect(byKey(points, 1, "Delete")).toHaveLength(2);
    expect(byKey(points, 1, "Tab")).toBeNull();
    expect(byKey(points, 7, "Delete")).toBeNull();
  });
});
