import { beforeEach, describe, expect, it, vi } from "vitest";
import type { CatalogPart, ModelView, PartView, PortView } from "../api/client";
import { useBench } from "./bench";
import { applyOperations, type Diagram, type ModelDocument, type Operation } from "./document";

const made: { label: string; operations: Operation[] }[] = [];
vi.mock("./model", () => ({
  edit: (label: string, operations: Operation[]) => operations.length > 0 && made.push({ label, operations }),
  here: (...steps: string[]) => "/definitions/main/" + steps.join("/"),
  restructure: () => Promise.resolve(null),
}));
vi.mock("./runs", () => ({ refreshTraces: () => Promise.resolve() }));

const { connect, removeSelected, turnSelected } = await import("./edits");

const port = (name: string, isInput: boolean) =>
  ({
    name,
    isInput,
    side: isInput ? "left" : "right",
    plug: isInput ? "in" : "out",
    takes: [isInput ? "out" : "in"],
    domain: null,
  }) as unknown as PortView;
const view = { width: 64, height: 48, shape: "plate", ports: [port("u", true), port("y", false)] } as unknown as PartView;
const node = (name: string, x: number) => ({ type: "Gain", name, x, y: 0, flip: false, turn: 0, parameters: {} });
const wire = (from: string, to: string) => ({ from: { part: from, port: "y" }, to: { part: to, port: "u" }, bends: [] });

/** a → b → c and d, with a name and a plot on the signal of a, and a requirement on it. */
const model = {
  root: "main",
  definitions: {
    main: {
      kind: "diagram",
      name: "M",
      parts: { a: node("A", 0), b: node("B", 160), c: node("C", 320), d: node("D", 480), e: node("E", 0) },
      wires: { ab: wire("a", "b"), bc: wire("b", "c"), bd: wire("b", "d") },
      signals: { "a.y": { name: "wish", probe: 0 }, "d.y": { name: "end" } },
      parameters: {},
      areas: {},
      notes: {},
    },
  },
  requirements: { r: { name: "Limit", signal: "a.y" } },
} as unknown as ModelDocument;

const diagramOf = (m: ModelDocument) => m.definitions.main as Diagram;

/** The diagram and the requirements after all edits so far. */
function after(): ModelDocument {
  return made.reduce((m, e) => applyOperations(m, e.operations), model);
}

function show(m: ModelDocument, ...selection: string[]): void {
  useBench.setState({
    model: m,
    diagram: diagramOf(m),
    definition: "main",
    level: "",
    selection: new Set(selection),
    catalog: new Map<string, CatalogPart>(),
    view: { parts: { a: view, b: view, c: view, d: view, e: view }, signals: {}, plotted: {} } as unknown as ModelView,
    notice: null,
  });
}

describe("a part that is deleted", () => {
  beforeEach(() => made.splice(0));

  it("offers to close the gap in its chain", () => {
    show(model, "b");
    removeSelected();
    expect(diagramOf(after()).wires).toEqual({});
    const { notice } = useBench.getState();
    expect(notice?.offer?.label).toBe("Close the gap");
    show(after());
    notice?.offer?.run();
    const wires = Object.values(diagramOf(after()).wires).map((w) => `${w.from.part} ${w.to.part}`);
    expect(wires.sort()).toEqual(["a c", "a d"]);
  });

  it("leaves no gap where it stood at an end, or went with its neighbour", () => {
    show(model, "a");
    removeSelected();
    expect(useBench.getState().notice).toBeNull();
    show(model, "b", "c");
    removeSelected();
    expect(useBench.getState().notice).toBeNull();
  });

  it("leaves what was said of its signal waiting for the next source", () => {
    show(model, "a");
    removeSelected();
    expect(diagramOf(after()).signals["a.y"]).toEqual({ name: "wish", probe: 0, feeds: [{ part: "b", port: "u" }] });
    show(after());
    connect({ part: "e", port: "y" }, { part: "b", port: "u" });
    expect(diagramOf(after()).signals).toEqual({ "e.y": { name: "wish", probe: 0 }, "d.y": { name: "end" } });
    expect(after().requirements.r?.signal).toBe("e.y");
  });

  it("takes along what was said of a signal that fed nothing else", () => {
    show(model, "d");
    removeSelected();
    expect(diagramOf(after()).signals["d.y"]).toBeUndefined();
  });
});

describe("turning", () => {
  beforeEach(() => made.splice(0));

  it("goes by quarters about the middle of the part, and back to where it was after four", () => {
    show(model, "c");
    for (let i = 0; i < 4; i++) {
      const turned = (diagramOf(after()).parts.c?.turn ?? 0) % 2 === 1;
      show(after(), "c");
      const shown = { ...view, width: turned ? 48 : 64, height: turned ? 64 : 48 };
      useBench.setState({ view: { parts: { c: shown } } as unknown as ModelView });
      turnSelected();
      expect(diagramOf(after()).parts.c?.turn).toBe((i + 1) % 4);
    }
    expect(diagramOf(after()).parts.c).toEqual(node("C", 320));
  });
});
