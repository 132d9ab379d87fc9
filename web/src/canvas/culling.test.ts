import { describe, expect, it } from "vitest";
import { frameOf, revealing, viewOf } from "./culling";

const size = { width: 1000, height: 600 };

describe("the mounted frame", () => {
  it("holds all that is in view, wherever the view is", () => {
    for (const x of [-4321, -17, 0, 250.5, 9999])
      for (const zoom of [0.3, 1, 2.5]) {
        const v = { x, y: x / 3, zoom };
        const [frame, seen] = [frameOf(v, size), viewOf(v, size)];
        expect(frame.minX).toBeLessThanOrEqual(seen.minX);
        expect(frame.minY).toBeLessThanOrEqual(seen.minY);
        expect(frame.maxX).toBeGreaterThanOrEqual(seen.maxX);
        expect(frame.maxY).toBeGreaterThanOrEqual(seen.maxY);
      }
  });

  it("stays while the view moves a little", () => {
    expect(frameOf({ x: -120, y: -40, zoom: 1 }, size)).toEqual(frameOf({ x: -180, y: -90, zoom: 1 }, size));
  });
});

describe("revealing", () => {
  const box = { minX: 2000, minY: 100, maxX: 2064, maxY: 148 };

  it("moves the view just so far that a box is in it", () => {
    const v = revealing({ x: 0, y: 0, zoom: 1 }, size, box);
    expect(v).toEqual({ x: -1112, y: 0, zoom: 1 });
    expect(revealing(v, size, box)).toEqual(v);
  });

  it("leaves the view where the box is in it already", () => {
    const v = { x: -1900, y: 0, zoom: 1 };
    expect(revealing(v, size, box)).toEqual(v);
  });
});
