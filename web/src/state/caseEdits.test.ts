import { beforeEach, describe, expect, test, vi } from "vitest";

const made: { label: string; operations: Operation[] }[] = [];
vi.mock("./model", () => ({ edit: (label: string, operations: Operation[]) => made.push({ label, operations }) }));

import { useBench } from "./bench";
import { addCase, addGroup, addValue, copyCase, freeName, grouped, removeGroup, setCase, setHeld } from "./caseEdits";
import { applyOperations, type ModelDocument, type Operation } from "./document";

const model = () =>
  ({
    cases: {
      a: { name: "Calm", group: "g", order: 2, tags: [], values: {}, expected: {}, measures: { m: { measure: "x", atLeast: "1" } } },
      b: { name: "Storm", order: 1, stimulus: "s", tags: [], values: {}, expected: {}, measures: {} },
      c: { name: "Ebb", group: "g", order: 1, tags: [], values: {}, expected: {}, measures: {} },
    },
    caseGroups: { g: { name: "weather", order: 1, values: {} }, h: { name: "empty", order: 0, values: {} } },
  }) as unknown as ModelDocument;

/** The model after the last edit. */
const after = () => applyOperations(model(), made.at(-1)?.operations ?? []);

beforeEach(() => {
  made.length = 0;
  useBench.setState({ model: model() });
});

describe("test cases", () => {
  test("stand by their groups in order, those without one last", () => {
    const { cases, caseGroups } = model();
    expect(grouped(cases, caseGroups).map((g) => [g.id, g.cases.map(([id]) => id)])).toEqual([
      ["h", []],
      ["g", ["c", "a"]],
      ["", ["b"]],
    ]);
    expect(grouped({}, {})).toEqual([{ id: "", group: null, cases: [] }]);
  });

  test("have names of their own", () => {
    expect(freeName("Case", ["Case", "Case 2"])).toBe("Case 3");
    const id = addCase("g");
    expect(after().cases[id]).toMatchObject({ name: "Case", group: "g", order: 3 });
    const copy = copyCase("a");
    expect(after().cases[copy]).toMatchObject({ name: "Calm, copy", group: "g", order: 3 });
  });

  test("take settings and give them up again", () => {
    setCase("b", "x", { stimulus: null, end: "5 s" });
    expect(after().cases["b"]).toMatchObject({ end: "5 s" });
    expect(after().cases["b"]?.stimulus).toBeUndefined();
    // One that is not there cannot be taken away.
    setCase("a", "x", { stimulus: null });
    expect(made.at(-1)?.operations).toEqual([]);
  });

  test("set values that begin as the model has them", () => {
    addValue({ kind: "cases", id: "a" }, { target: "p.k", label: "Gain.k", kind: "parameter", present: "3", values: "" });
    expect(Object.values(after().cases["a"]?.values ?? {})).toEqual([{ target: "p.k", text: "3", order: 1 }]);
  });

  test("hold a measure on one side or both", () => {
    setHeld("a", "m", { atMost: "4 m" });
    expect(after().cases["a"]?.measures["m"]).toEqual({ measure: "x", atLeast: "1", atMost: "4 m" });
    setHeld("a", "m", { atLeast: null });
    expect(after().cases["a"]?.measures["m"]).toEqual({ measure: "x" });
  });

  test("stay when their group goes", () => {
    removeGroup("g");
    expect(after().caseGroups["g"]).toBeUndefined();
    expect(Object.values(after().cases).map((c) => c.group)).toEqual([undefined, undefined, undefined]);
    expect(made.length).toBe(1);
    const id = addGroup();
    expect(after().caseGroups[id]).toMatchObject({ name: "Group", order: 2 });
  });
});
