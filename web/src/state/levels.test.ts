import { describe, expect, it } from "vitest";
import { levelsOf, probesOf, type ModelDocument } from "./document";

const part = (type: string, name: string) => ({ type, name, x: 0, y: 0, flip: false, turn: 0, parameters: {} });
const diagram = (name: string, parts: Record<string, unknown>, signals: Record<string, unknown> = {}) => ({
  kind: "diagram",
  name,
  parts,
  signals,
  wires: {},
  parameters: {},
  areas: {},
  notes: {},
});

const winch = {
  root: "main",
  definitions: {
    main: diagram("Winch", { a: part("#motor", "Left"), b: part("#motor", "Right"), s: part("Step", "Set") }, { "s.y": { probe: 1 } }),
    motor: diagram("Motor", { g: part("Gain", "Stage"), v: part("#valve", "Valve") }, { "g.y": { probe: 0 } }),
    valve: diagram("Valve", { m: part("#motor", "Again") }),
  },
} as unknown as ModelDocument;

describe("levels of a model", () => {
  it("are all uses of definitions, without what would hold itself", () => {
    expect(levelsOf(winch).map((l) => l.path)).toEqual(["", "a", "a/v", "b", "b/v"]);
    expect(levelsOf(winch)[2]?.names).toEqual(["Left", "Valve"]);
  });

  it("are walked once for one set of definitions", () => {
    expect(levelsOf({ ...winch, settings: {} } as ModelDocument)).toBe(levelsOf(winch));
  });
});

describe("plotted signals", () => {
  it("are those of every use, in the order of strips", () => {
    expect(probesOf(winch).map((p) => [p.reference, p.strip])).toEqual([
      ["a/g.y", 0],
      ["b/g.y", 0],
      ["s.y", 1],
    ]);
  });

  it("know where they were said to be plotted", () => {
    expect(probesOf(winch)[1]).toMatchObject({ definition: "motor", key: "g.y" });
  });
});
