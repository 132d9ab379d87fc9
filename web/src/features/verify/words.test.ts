import { describe, expect, it } from "vitest";
import { outcomeOf, scaleOf, short, toldCell } from "./words";

describe("margins in narrow cells", () => {
  it.each([
    [12.34, "12"],
    [0.0217, ".02"],
    [-2.345, "−2.3"],
    [-0.5, "−.5"],
    [0.004, "0.0"],
    [-0.004, "−0.0"],
    [0, "0"],
    [17_460, "17k"],
    [null, ""],
  ])("%s is %s", (margin, text) => expect(short(margin)).toBe(text));
});

describe("what is told of a cell", () => {
  const cell = { requirement: "q", kind: "missed", margin: -2.34, unit: "s", isNarrow: false, isStale: true } as const;
  it("says the requirement, the case, the verdict and by how much", () =>
    expect(toldCell("Closes in a storm", "Storm, cold oil", cell)).toBe(
      "Closes in a storm, Storm, cold oil: missed by 2.34 s, out of date",
    ));
  it("says that one does not apply", () => expect(toldCell("A", "B", undefined)).toBe("A, B: does not apply"));
  it("tells a case that was never run from one that failed", () => {
    expect(outcomeOf(undefined)).toBe("not run");
    expect(outcomeOf({ outcome: "broken" })).toBe("did not run");
  });
});

describe("the unit of a line of margins", () => {
  const cell = (margin: number | null, unit: string) =>
    ({ requirement: "q", kind: "met", margin, unit, isNarrow: false, isStale: false }) as const;
  it("is a thousandth where all are below one", () =>
    expect(scaleOf([cell(0.02, "m"), undefined, cell(-0.12, "m")])).toEqual({ factor: 1000, unit: "mm" }));
  it("stays where one is not", () => expect(scaleOf([cell(0.02, "s"), cell(1.5, "s")])).toEqual({ factor: 1, unit: "s" }));
  it("is per cent of what has none", () => expect(scaleOf([cell(0.08, "")])).toEqual({ factor: 100, unit: "%" }));
  it("stays where units differ or have no thousandths", () => {
    expect(scaleOf([cell(0.02, "m"), cell(0.1, "s")]).factor).toBe(1);
    expect(scaleOf([cell(0.02, "kN")])).toEqual({ factor: 1, unit: "kN" });
  });
});
