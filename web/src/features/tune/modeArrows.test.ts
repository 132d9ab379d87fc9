import { describe, expect, it } from "vitest";
import { arrowsOf, swing } from "./modeArrows";

const state = (name: string, part: string | null, share: number, re: number, im = 0) => ({ state: name, part, share, re, im });

describe("arrows of a mode", () => {
  it("compares states of one kind, and shows those that take part", () => {
    const arrows = arrowsOf(
      [
        state("Rotor.w", "rotor", 0.3, 1),
        state("Boom.w", "boom", 0.2, -0.5),
        state("Rotor.phi", "rotor", 0.3, 0, -0.02),
        state("Amplifier.x", "amp", 0.0001, 40),
      ],
      "",
    );
    expect([...arrows.keys()]).toEqual(["rotor", "boom"]);
    expect(arrows.get("rotor")?.size).toBe(1);
    expect(arrows.get("boom")).toEqual({ size: 0.5, phase: Math.PI });
  });

  it("shows parts inside a part at that part, and on its own level those in it alone", () => {
    const states = [state("Drive.Rotor.w", "drive/rotor", 0.5, 1), state("Boom.w", "boom", 0.5, 0.5)];
    expect([...arrowsOf(states, "").keys()]).toEqual(["drive", "boom"]);
    expect([...arrowsOf(states, "drive").keys()]).toEqual(["rotor"]);
  });

  it("turns once, from where the motion is", () => {
    const turn = swing(Math.PI);
    expect(turn[0]).toBe(-1);
    expect(turn[12]).toBe(1);
    expect(turn.at(-1)).toBe(-1);
  });
});
