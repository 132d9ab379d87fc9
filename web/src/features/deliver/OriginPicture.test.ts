import { describe, expect, test } from "vitest";
import { frameAround } from "./OriginPicture";

const part = { x: 900, y: 100, width: 64, height: 48 };

describe("the piece of a level that is seen", () => {
  test("is all of it where that can be read, or nothing is looked at", () => {
    const small = { x: 0, y: 0, width: 600, height: 300 };
    expect(frameAround(small, part)).toBe(small);
    const large = { x: 0, y: 0, width: 2000, height: 300 };
    expect(frameAround(large, undefined)).toBe(large);
  });

  test("has the part in its middle", () => {
    const f = frameAround({ x: 0, y: -500, width: 2000, height: 1500 }, part);
    expect(f.x + f.width / 2).toBe(932);
    expect(f.y + f.height / 2).toBe(124);
  });

  test("does not go beyond the level", () => {
    const f = frameAround({ x: 0, y: 0, width: 1001, height: 300 }, part);
    expect(f.x + f.width).toBe(1001);
    expect([f.y, f.height]).toEqual([0, 300]);
  });
});
