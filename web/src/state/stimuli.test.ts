import { describe, expect, test } from "vitest";
import { parsePoints, pointsText, snapped } from "./stimuli";

describe("points of a track", () => {
  test("are read from what people type and paste", () => {
    const expected = { times: [0, 1, 2.5], values: [0, 4, -1] };
    expect(parsePoints("0 0\n1 4\n2.5 -1")).toEqual(expected);
    expect(parsePoints("0,0\r\n1,4\r\n2.5,-1\r\n")).toEqual(expected);
    expect(parsePoints("t;u\n0;0\n1;4\n2,5;-1")).toEqual(expected);
    expect(parsePoints(pointsText(expected))).toEqual(expected);
  });

  test("stand in the order of time, those of one time as they were", () => {
    expect(parsePoints("2 1\n1 5\n1 6")).toEqual({ times: [1, 1, 2], values: [5, 6, 1] });
  });

  test("that are none are refused", () => {
    expect(parsePoints("")).toBeNull();
    expect(parsePoints("0 0\n1 high")).toBeNull();
    expect(parsePoints("0")).toBeNull();
  });

  test("snap to round steps", () => {
    expect(snapped(3.14159, 10)).toBe(3.1);
    expect(snapped(0.0149, 0.1)).toBe(0.015);
  });
});
