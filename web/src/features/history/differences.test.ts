import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { changesOf, countsOf, marksOf, valuesOf } from "./differences";

const level: Schemas["LevelDifference"] = {
  name: "Drive",
  left: "",
  right: "",
  differences: [
    {
      what: "part",
      name: "Gain",
      change: "changed",
      left: "g",
      right: "p7",
      take: [],
      fields: [{ field: "k", left: "2", right: "3", isValue: true }],
    },
    {
      what: "part",
      name: "Lag",
      change: "moved",
      left: "l",
      right: "l",
      take: [],
      fields: [{ field: "x", left: "0", right: "8", isValue: false }],
    },
    { what: "wire", name: "a → b", change: "added", left: null, right: "w2", take: [], fields: [] },
    {
      what: "parameter",
      name: "T",
      change: "changed",
      left: "T",
      right: "T",
      take: [],
      fields: [{ field: "value", left: "1", right: "2", isValue: true }],
    },
  ],
};

describe("differences of two states", () => {
  it("are without what only moved where that is hidden", () => {
    expect(changesOf([level], true)[0]?.differences.map((d) => d.name)).toEqual(["Gain", "a → b", "T"]);
    expect(changesOf([{ ...level, differences: [level.differences[1] as never] }], true)).toEqual([]);
  });

  it("are set off on each side by the ids of that side", () => {
    expect([...marksOf(level, "left")]).toEqual([
      ["g", "changed"],
      ["l", "moved"],
    ]);
    expect(marksOf(level, "right").get("p7")).toBe("changed");
    expect(marksOf(level, "right").get("w2")).toBe("added");
  });

  it("are counted in words", () => expect(countsOf(level)).toBe("1 added, 2 changed, 1 moved"));

  it("give a table of values", () => {
    expect(valuesOf([level])).toEqual([
      { level: "Drive", part: "Gain", field: "k", left: "2", right: "3" },
      { level: "Drive", part: "", field: "T", left: "1", right: "2" },
    ]);
  });
});
