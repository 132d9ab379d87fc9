import { beforeEach, describe, expect, it } from "vitest";
import { useBench } from "./bench";
import { applyOperations, type Diagram, type ModelDocument } from "./document";
import { copySelected, pasted } from "./edits";

const node = (type: string, name: string, parameters: Record<string, string> = {}) => ({
  type,
  name,
  x: 0,
  y: 0,
  flip: false,
  turn: 0,
  parameters,
});

const source = {
  kind: "diagram",
  name: "Source",
  parts: { a: node("Gain", "Amplifier", { k: "gain * 2" }), b: node("#lag", "Lag"), c: node("Step", "Step") },
  wires: {
    w: { from: { part: "a", port: "y" }, to: { part: "b", port: "u" }, bends: [{ x: 8, y: 8 }] },
    v: { from: { part: "c", port: "y" }, to: { part: "a", port: "u" }, bends: [] },
  },
  signals: { "b.y": { name: "speed", unit: "m/s", probe: 1 }, "c.y": { name: "wish" } },
  parameters: { gain: { value: "base + 1" }, base: { value: "3" }, other: { value: "9" } },
  areas: { r: { text: "Plant", x: -10, y: -10, width: 300, height: 200 } },
  notes: {},
} as unknown as Diagram;

const lag = { kind: "diagram", name: "Lag", parts: { x: node("#own", "Own") } };
const own = { kind: "text", name: "OwnLag", text: "block OwnLag end OwnLag;" };
const unused = { kind: "text", name: "Unused", text: "block Unused end Unused;" };

const model = { root: "main", definitions: { main: source, lag, own, unused } } as unknown as ModelDocument;

const emptyDiagram = { kind: "diagram", name: "Empty", parts: {}, wires: {}, signals: {}, parameters: {}, areas: {}, notes: {} } as Diagram;
const empty = { root: "top", definitions: { top: emptyDiagram } } as unknown as ModelDocument;

const view = { ownParts: [], parts: Object.fromEntries(["a", "b", "c"].map((id) => [id, { width: 80, height: 48 }])) };

beforeEach(() => useBench.setState({ model, definition: "main", diagram: source, view: view as never, selection: new Set(["a", "b"]) }));

const into = (target: ModelDocument, definition: string) => ({
  model: target,
  definition,
  diagram: target.definitions[definition] as Diagram,
});

describe("copying", () => {
  it("takes what the parts need and carry", () => {
    const clip = copySelected();
    expect(Object.keys(clip.parts)).toEqual(["a", "b"]);
    expect(Object.keys(clip.wires)).toEqual(["w"]);
    expect(Object.keys(clip.signals)).toEqual(["b.y"]);
    expect(Object.keys(clip.parameters).sort()).toEqual(["base", "gain"]);
  });

  it("takes definitions with those they hold, and no others", () => {
    expect(Object.keys(copySelected().definitions).sort()).toEqual(["lag", "own"]);
  });

  it("takes a caption only where all it surrounds is copied", () => {
    expect(copySelected().areas).toEqual({});
    useBench.setState({ selection: new Set(["a", "b", "c"]) });
    expect(Object.keys(copySelected().areas)).toEqual(["r"]);
  });
});

describe("pasting", () => {
  it("brings everything into another model", () => {
    const { operations, ids } = pasted(copySelected(), into(empty, "top"), 32, 16);
    const next = applyOperations(empty, operations);
    const top = next.definitions.top as Diagram;
    expect(Object.values(top.parts).map((p) => [p.name, p.type, p.x, p.y])).toEqual([
      ["Amplifier", "Gain", 32, 16],
      ["Lag", "#lag", 32, 16],
    ]);
    expect(top.signals[`${ids[1]}.y`]).toEqual({ name: "speed", unit: "m/s", probe: 1 });
    expect(top.parameters).toEqual({ gain: { value: "base + 1" }, base: { value: "3" } });
    expect(next.definitions.lag).toEqual(lag);
    expect(next.definitions.own).toEqual(own);
    expect(Object.values(top.wires)[0]?.from.part).toBe(ids[0]);
  });

  it("leaves names that are taken to those who have them", () => {
    const { operations, ids } = pasted(copySelected(), into(model, "main"), 32, 32);
    const next = applyOperations(model, operations);
    const main = next.definitions.main as Diagram;
    expect(main.signals[`${ids[1]}.y`]).toEqual({ unit: "m/s", probe: 1 });
    expect(main.parts[ids[0] as string]?.name).toBe("Amplifier 2");
    expect(main.parameters).toEqual(source.parameters);
  });

  it("uses a definition again that is there already", () => {
    const { operations } = pasted(copySelected(), into(model, "main"), 32, 32);
    expect(Object.keys(applyOperations(model, operations).definitions)).toEqual(Object.keys(model.definitions));
  });

  it("gives a definition another id where the id means something else, also inside others", () => {
    const other = { root: "top", definitions: { top: emptyDiagram, own: unused } } as unknown as ModelDocument;
    const { operations } = pasted(copySelected(), into(other, "top"), 0, 0);
    const next = applyOperations(other, operations);
    const copy = next.definitions.lag as Diagram;
    const type = copy.parts.x?.type as string;
    expect(type).not.toBe("#own");
    expect(next.definitions[type.slice(1)]).toEqual(own);
    expect(next.definitions.own).toEqual(unused);
  });
});
