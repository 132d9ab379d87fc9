import { beforeEach, describe, expect, test, vi } from "vitest";

const made: { label: string; operations: Operation[] }[] = [];
vi.mock("./model", () => ({
  edit: (label: string, operations: Operation[]) => made.push({ label, operations }),
  onStudy: () => undefined,
  queueIdle: () => Promise.resolve(),
}));
vi.mock("./cases", () => ({ showView: () => undefined }));
vi.mock("./studies", () => ({ useStudies: { getState: () => ({ jobs: [] }) }, jobOf: () => null, shownStudy: () => null }));

import { useBench } from "./bench";
import { applyOperations, type ModelDocument, type Operation } from "./document";
import { addBelow, addTree, takeOut, treesOf } from "./faultTrees";

const model = () =>
  ({
    faultTrees: {
      t: {
        name: "Stays open",
        order: 1,
        top: "top",
        duration: "1 h",
        gates: {
          top: { name: "Top", kind: "or", least: 2, inputs: ["g", "a"] },
          g: { name: "Both", kind: "and", least: 2, inputs: ["a", "b"] },
        },
        events: { a: { name: "Valve", value: "" }, b: { name: "Pump", value: "" } },
      },
    },
  }) as unknown as ModelDocument;

const after = () => applyOperations(model(), made.at(-1)?.operations ?? []).faultTrees["t"];

beforeEach(() => {
  made.length = 0;
  useBench.setState({ model: model() });
});

describe("fault trees", () => {
  test("get gates and events below a gate, and one that is there a second time", () => {
    addBelow("t", "g", "event");
    expect(after()?.gates["g"]?.inputs.length).toBe(3);
    expect(Object.keys(after()?.events ?? {}).length).toBe(3);
    addBelow("t", "top", { place: "b" });
    expect(after()?.gates["top"]?.inputs).toEqual(["g", "a", "b"]);
    expect(made.every((m) => m.operations.length <= 2)).toBe(true);
  });

  test("lose with a gate what stands nowhere else", () => {
    takeOut("t", "top", "g");
    expect(Object.keys(after()?.gates ?? {})).toEqual(["top"]);
    expect(Object.keys(after()?.events ?? {})).toEqual(["a"]);
    // An event that stands elsewhere too stays.
    takeOut("t", "g", "a");
    expect(after()?.gates["g"]?.inputs).toEqual(["b"]);
    expect(Object.keys(after()?.events ?? {})).toEqual(["a", "b"]);
  });

  test("begin with a gate at their top", () => {
    const id = addTree();
    const tree = applyOperations(model(), made.at(-1)?.operations ?? []).faultTrees[id];
    expect(tree).toMatchObject({ top: "top", order: 2 });
    expect(treesOf({ b: { ...tree!, order: 3 }, a: tree! }).map(([key]) => key)).toEqual(["a", "b"]);
  });
});
