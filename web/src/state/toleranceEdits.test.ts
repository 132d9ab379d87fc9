import { beforeEach, describe, expect, test, vi } from "vitest";

const made: { label: string; operations: Operation[] }[] = [];
vi.mock("./model", () => ({ edit: (label: string, operations: Operation[]) => made.push({ label, operations }) }));

import { useBench } from "./bench";
import { applyOperations, type ModelDocument, type Operation } from "./document";
import { addTolerance, putIntoGroup, removeTolerance, tolerancesOf } from "./toleranceEdits";

const model = () =>
  ({
    tolerances: {
      a: { target: "p1.k", values: "± 5 %", group: "g", order: 2 },
      b: { target: "p2.k", values: "± 1 mm", order: 1 },
    },
    toleranceGroups: { g: { name: "one batch", correlation: 0.8 } },
  }) as unknown as ModelDocument;

/** The model after the last edit. */
const after = () => applyOperations(model(), made.at(-1)?.operations ?? []);

beforeEach(() => {
  made.length = 0;
  useBench.setState({ model: model() });
});

describe("tolerances of the model", () => {
  test("stand in their order, a new one behind the others and once only", () => {
    expect(tolerancesOf(model().tolerances).map(([id]) => id)).toEqual(["b", "a"]);
    addTolerance("p3.T", "Lag.T");
    expect(tolerancesOf(after().tolerances).at(-1)?.[1]).toMatchObject({ target: "p3.T", values: "± 5 %", order: 3 });
    addTolerance("p1.k", "Gain.k");
    expect(made.length).toBe(1);
  });

  test("come into a group by its name, which is made where there is none", () => {
    putIntoGroup("b", "one batch");
    expect(after().tolerances["b"]?.group).toBe("g");
    putIntoGroup("b", "another");
    const group = after().tolerances["b"]?.group as string;
    expect(after().toleranceGroups[group]).toMatchObject({ name: "another", correlation: 0.8 });
    expect(after().toleranceGroups["g"]).toBeDefined();
  });

  test("leave no group behind that nothing is in", () => {
    putIntoGroup("a", "");
    expect(after().tolerances["a"]?.group).toBeUndefined();
    expect(after().toleranceGroups).toEqual({});
    removeTolerance("a");
    expect(Object.keys(after().tolerances)).toEqual(["b"]);
    expect(after().toleranceGroups).toEqual({});
  });

  test("stay as they are where the group is the same", () => {
    putIntoGroup("a", "one batch");
    putIntoGroup("b", "");
    expect(made).toEqual([]);
  });
});
