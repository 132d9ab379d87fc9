import { expect, test } from "vitest";
import { unwrapped } from "./MeasuredView";

test("a phase goes on without jumps, from between −270 and 90 degrees", () => {
  expect(unwrapped([170, -170, 150])).toEqual([-190, -170, -210]);
  expect(unwrapped([-100, 170, 60])).toEqual([-100, -190, -300]);
  expect(unwrapped([])).toEqual([]);
});
