import { describe, expect, it } from "vitest";
import { applyOperations, freeName, levelAt, pointer, referenceOf, type Diagram, type ModelDocument } from "./document";

const part = (type: string, name: string) => ({ type, name, x: 0, y: 0, flip: false, turn: 0, parameters: {} });

const diagram = {
  kind: "diagram",
  name: "Model",
  parts: { a: part("Lag", "Lag"), b: part("#inner", "Lag 2") },
  wires: { w: { from: { part: "a", port: "y" }, to: { part: "b", port: "u" }, bends: [{ x: 1, y: 2 }] } },
  parameters: { gain: { value: "1", isDerived: false } },
  signals: {},
  areas: {},
  notes: {},
} as Diagram;

const inner: Diagram = { ...diagram, name: "Inner", parts: { c: part("#text", "Own"), d: part("#main", "Again") } };

const model = {
  root: "main",
  definitions: { main: diagram, inner, text: { kind: "text", name: "Own", text: "block Own end Own;" } },
} as unknown as ModelDocument;

describe("applyOperations", () => {
  it("adds, replaces and removes without touching the original", () => {
    const next = applyOperations(diagram, [
      { op: "add", path: "/parts/a/parameters/k", value: "2" },
      { op: "replace", path: "/parts/b/x", value: 8 },
      { op: "remove", path: "/wires/w" },
    ]);
    expect(next.parts.a?.parameters).toEqual({ k: "2" });
    expect(next.parts.b?.x).toBe(8);
    expect(next.wires).toEqual({});
    expect(diagram.parts.a?.parameters).toEqual({});
    expect(diagram.wires.w).toBeDefined();
  });

  it("shares what did not change", () => {
    const next = applyOperations(model, [{ op: "replace", path: "/definitions/inner/name", value: "Other" }]);
    expect(next.definitions.main).toBe(model.definitions.main);
  });

  it("reads escaped names", () => {
    const path = pointer("parameters", "a/b~c");
    expect(applyOperations(diagram, [{ op: "add", path, value: { value: "3" } }]).parameters["a/b~c"]).toEqual({ value: "3" });
  });

  it("refuses a place that is not there", () => {
    expect(() => applyOperations(diagram, [{ op: "replace", path: "/parts/none/x", value: 1 }])).toThrow();
  });
});

describe("levels", () => {
  it("are found by the ids of the parts that lead to them", () => {
    expect(levelAt(model, "")?.diagram).toBe(diagram);
    expect(levelAt(model, "b")).toEqual({ definition: "inner", diagram: inner, chart: null, table: null, valve: null });
    expect(levelAt(model, "b/d")?.definition).toBe("main");
  });

  it("are not found through parts that are no diagrams", () => {
    expect(levelAt(model, "a")).toBeNull();
    expect(levelAt(model, "b/c")).toBeNull();
    expect(levelAt(model, "gone")).toBeNull();
  });

  it("give signals their identity from the root down", () => {
    expect(referenceOf("", "a.y")).toBe("a.y");
    expect(referenceOf("b/d", "a.y")).toBe("b/d/a.y");
  });
});

describe("freeName", () => {
  it("counts on from names that are taken, parameters included", () => {
    expect(freeName(diagram, "Lag")).toBe("Lag 3");
    expect(freeName(diagram, "gain")).toBe("gain 2");
    expect(freeName(diagram, "Step")).toBe("Step");
  });
});
