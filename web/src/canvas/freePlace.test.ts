import { describe, expect, it } from "vitest";
import { freePlace, type Rectangle } from "./freePlace";

const part = (x: number, y: number): Rectangle => ({ x, y, width: 80, height: 48 });

describe("freePlace", () => {
  it("takes the wanted place where it is free", () => {
    expect(freePlace(part(96, 96), [])).toEqual({ x: 96, y: 96 });
    expect(freePlace(part(96, 96), [part(300, 96)])).toEqual({ x: 96, y: 96 });
  });

  it("goes beside what is there, and never onto anything", () => {
    const taken: Rectangle[] = [];
    for (let i = 0; i < 30; i++) {
      const at = { ...part(96, 96), ...freePlace(part(96, 96), taken) };
      for (const t of taken)
        expect(at.x + at.width <= t.x || t.x + t.width <= at.x || at.y + at.height <= t.y || t.y + t.height <= at.y).toBe(true);
      taken.push(at);
    }
    expect(Math.max(...taken.map((t) => Math.hypot(t.x - 96, t.y - 96)))).toBeLessThan(500);
  });
});
