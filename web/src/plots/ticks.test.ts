import { describe, expect, it } from "vitest";
import { valueAt } from "../api/traces";
import { format } from "../ui/format";
import { extent, spaced, ticks } from "./ticks";

describe("numbers and axes", () => {
  it("shows four figures", () => {
    expect([format(0.123456), format(-12.3456), format(123456), format(1.5e-7), format(0), format(NaN)]).toEqual([
      "0.1235",
      "−12.35",
      "123500",
      "1.5·10⁻⁷",
      "0",
      "–",
    ]);
  });

  it("puts ticks on round values inside the range", () => {
    expect(ticks(0, 1, 5)).toEqual([0, 0.2, 0.4, 0.6, 0.8, 1]);
    expect(ticks(-3, 17, 4)).toEqual([0, 5, 10, 15]);
  });

  it("leaves out ticks whose labels would stand on each other, but not zero", () => {
    expect(spaced([-1, 0, 1], 7, 13)).toEqual([0]);
    expect(spaced([-2, -1, 0, 1, 2], 10, 13)).toEqual([-2, 0, 2]);
    expect(spaced([0, 1, 2], 20, 13)).toEqual([0, 1, 2]);
  });

  it("gives a flat line room", () => {
    expect(extent(5, 5)).toEqual([4.5, 5.5]);
    expect(extent(NaN, 1)).toEqual([0, 1]);
  });

  it("reads a trace between points and at the right side of an event", () => {
    const series = { times: Float64Array.of(0, 1, 1, 2), values: Float64Array.of(0, 2, 5, 7) };
    expect(valueAt(series, 0.5)).toBe(1);
    expect(valueAt(series, 1)).toBe(5);
    expect(valueAt(series, 1.5)).toBe(6);
  });
});
