import { describe, expect, it } from "vitest";
import { freeSide, middle } from "./tagPlaces";

const level = middle(
  [
    { x: 0, y: 100 },
    { x: 200, y: 100 },
  ],
  60,
  28,
)!;
const upright = middle(
  [
    { x: 100, y: 0 },
    { x: 100, y: 200 },
  ],
  60,
  28,
)!;

describe("freeSide", () => {
  it("stands below a level wire where nothing is", () => expect(freeSide(level, 1, 60, false, false, [])?.side).toBe("below"));

  it("goes above where a part lies below", () =>
    expect(freeSide(level, 1, 60, false, false, [{ x: 80, y: 104, width: 40, height: 40 }])?.side).toBe("above"));

  it("does not go where the name stands", () =>
    expect(freeSide(level, 1, 60, true, false, [{ x: 80, y: 104, width: 40, height: 40 }])).toBeNull());

  it("goes to the left of an upright wire where a part lies at the right", () =>
    expect(freeSide(upright, 1, 60, false, false, [{ x: 110, y: 80, width: 40, height: 40 }])?.side).toBe("left"));

  it("stays at its own side beside a neighbour", () =>
    expect(freeSide(upright, 1, 60, false, true, [{ x: 50, y: 80, width: 40, height: 40 }])).toBeNull());

  it("says which room the text takes, so that the next one keeps clear of it", () => {
    const first = freeSide(level, 1, 60, false, false, [])!;
    expect(freeSide(level, 1, 60, false, false, [first.box])?.side).toBe("above");
  });
});
