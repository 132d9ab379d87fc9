import { beforeEach, describe, expect, it } from "vitest";
import { applyOperations, type ModelDocument } from "./document";
import { copySelected, pasted } from "./edits";
import { useBench } from "./store";

const node = (type: string, name: string, parameters: Record<string, string> = {}) => ({ type, name, x: 0, y: 0, parameters });

const source = {
  parts: { a: node("Gain", "Amplifier", { k: "gain * 2" }), b: node("OwnLag", "Lag"), c: node("Step", "Step") },
  wires: {
    w: { from: { part: "a", port: "y" }, to: { part: "b", port: "u" }, bends: [{ x: 8, y: 8 }] },
    v: { from: { part: "c", port: "y" }, to: { part: "a", port: "u" }, bends: [] },
  },
  signals: { "b.y": { name: "speed", unit: "m/s", probe: 1 }, "c.y": { name: "wish" } },
  parameters: { gain: { value: "base + 1" }, base: { value: "3" }, other: { value: "9" } },
  requirements: {},
  areas: { r: { text: "Plant", x: -10, y: -10, width: 300, height: 200 } },
  classes: { OwnLag: { text: "block OwnLag end OwnLag;" } },
  settings: {},
} as unknown as ModelDocument;

const empty = {
  parts: {},
  wires: {},
  signals: {},
  parameters: {},
  requirements: {},
  areas: {},
  classes: {},
  settings: {},
} as unknown as ModelDocument;

const view = { ownParts: [], parts: Object.fromEntries(["a", "b", "c"].map((id) => [id, { width: 80, height: 48 }])) };

beforeEach(() => useBench.setState({ document: source, view: view as never, selection: new Set(["a", "b"]) }));

describe("copying", () => {
  it("takes what the parts need and carry", () => {
    const clip = copySelected();
    expect(Object.keys(clip.parts)).toEqual(["a", "b"]);
    expect(Object.keys(clip.wires)).toEqual(["w"]);
    expect(Object.keys(clip.signals)).toEqual(["b.y"]);
    expect(Object.keys(clip.parameters).sort()).toEqual(["base", "gain"]);
    expect(Object.keys(clip.classes)).toEqual(["OwnLag"]);
  });

  it("takes a caption only where all it surrounds is copied", () => {
    expect(copySelected().areas).toEqual({});
    useBench.setState({ selection: new Set(["a", "b", "c"]) });
    expect(Object.keys(copySelected().areas)).toEqual(["r"]);
  });
});

describe("pasting", () => {
  it("brings everything into another model", () => {
    const { operations, ids } = pasted(copySelected(), empty, () => false, 32, 16);
    const next = applyOperations(empty, operations);
    expect(Object.values(next.parts).map((p) => [p.name, p.x, p.y])).toEqual([
      ["Amplifier", 32, 16],
      ["Lag", 32, 16],
    ]);
    expect(next.signals[`${ids[1]}.y`]).toEqual({ name: "speed", unit: "m/s", probe: 1 });
    expect(next.parameters).toEqual({ gain: { value: "base + 1" }, base: { value: "3" } });
    expect(next.classes).toEqual(source.classes);
    expect(Object.values(next.wires)[0]?.from.part).toBe(ids[0]);
  });

  it("leaves names that are taken to those who have them", () => {
    const { operations, ids } = pasted(copySelected(), source, () => true, 32, 32);
    const next = applyOperations(source, operations);
    expect(next.signals[`${ids[1]}.y`]).toEqual({ unit: "m/s", probe: 1 });
    expect(next.parts[ids[0] as string]?.name).toBe("Amplifier 2");
    expect(next.parameters).toEqual(source.parameters);
  });
});
