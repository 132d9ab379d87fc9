import { describe, expect, it } from "vitest";
import { applyOperations, freeName, pointer, type ModelDocument } from "./document";
import { extent, ticks } from "../traces/ticks";
import { valueAt } from "../api/traces";
import { format } from "../bench/format";

const model = {
  parts: { a: { type: "Lag", name: "Lag", x: 0, y: 0, parameters: {} }, b: { type: "Lag", name: "Lag 2", x: 0, y: 0, parameters: {} } },
  wires: { w: { from: { part: "a", port: "y" }, to: { part: "b", port: "u" }, bends: [{ x: 1, y: 2 }] } },
  parameters: { gain: { value: "1" } },
} as unknown as ModelDocument;

describe("applyOperations", () => {
  it("adds, replaces and removes without touching the original", () => {
    const next = applyOperations(model, [
      { op: "add", path: "/parts/a/parameters/k", value: "2" },
      { op: "replace", path: "/parts/b/x", value: 8 },
      { op: "remove", path: "/wires/w" },
    ]);
    expect(next.parts.a?.parameters).toEqual({ k: "2" });
    expect(next.parts.b?.x).toBe(8);
    expect(next.wires).toEqual({});
    expect(model.parts.a?.parameters).toEqual({});
    expect(model.wires.w).toBeDefined();
  });

  it("reads escaped names", () => {
    const path = pointer("parameters", "a/b~c");
    expect(applyOperations(model, [{ op: "add", path, value: { value: "3" } }]).parameters["a/b~c"]).toEqual({ value: "3" });
  });

  it("refuses a place that is not there", () => {
    expect(() => applyOperations(model, [{ op: "replace", path: "/parts/none/x", value: 1 }])).toThrow();
  });
});

describe("freeName", () => {
  it("counts on from names that are taken, parameters included", () => {
    expect(freeName(model, "Lag")).toBe("Lag 3");
    expect(freeName(model, "gain")).toBe("gain 2");
    expect(freeName(model, "Step")).toBe("Step");
  });
});

describe("numbers and axes", () => {
  it("shows four figures", () => {
    expect([format(0.123456), format(-12.3456), format(123456), format(1.5e-7), format(0), format(NaN)]).toEqual([
      "0.1235",
      "−12.35",
      "123500",
      "1.5·10^-7",
      "0",
      "–",
    ]);
  });

  it("puts ticks on round values inside the range", () => {
    expect(ticks(0, 1, 5)).toEqual([0, 0.2, 0.4, 0.6, 0.8, 1]);
    expect(ticks(-3, 17, 4)).toEqual([0, 5, 10, 15]);
  });

  it("gives a flat line room", () => {
    expect(extent(5, 5)).toEqual([4.5, 5.5]);
    expect(extent(NaN, 1)).toEqual([0, 1]);
  });

  it("reads a trace between points and at the right side of an event", () => {
    const series = { times: Float64Array.of(0, 1, 1, 2), values: Float64Array.of(0, 2, 5, 7) };
    expect(valueAt(series, 0.5)).toBe(1);
    expect(valueAt(series, 1)).toBe(5);
    expect(valueAt(series, 1.5)).toBe(6);
  });
});
