import { describe, expect, it } from "vitest";
import { Haste, REST } from "./haste";

/** Whether each of some pictures is drawn in haste, begun so many ms after the one before. */
function drawn(gaps: readonly number[], haste = new Haste()) {
  let at = 1000;
  return gaps.map((gap) => haste.begin((at += gap)));
}

describe("pictures that are drawn in haste", () => {
  it("are those of a motion that cannot be followed otherwise", () => {
    const seen = drawn(Array.from({ length: 20 }, () => 45));
    expect(seen.slice(0, 5)).toEqual([false, false, false, false, false]);
    expect(seen.slice(5)).not.toContain(false);
  });

  it("are none where pictures come quickly, whatever a single one takes", () => {
    const gaps = Array.from({ length: 20 }, (_, i) => (i === 9 ? 80 : 17));
    expect(drawn(gaps)).not.toContain(true);
  });

  it("stay so to the end of the motion, and not beyond", () => {
    const seen = drawn([...Array.from({ length: 8 }, () => 50), 25, 25, 25, REST + 1, 17]);
    expect(seen.slice(-5)).toEqual([true, true, true, false, false]);
  });
});
