import { describe, expect, it } from "vitest";
import type { PartView, PortView } from "../api/client";
import type { Diagram, PartNode } from "../state/document";
import { RouteCache } from "./routes";
import { drag, idle, press, pressToPan, release, type Intent, type Pointer, type Situation, type Tool, type Under } from "./tools";

const node = (x: number, y: number): PartNode => ({ type: "Gain", name: "G", x, y, flip: false, turn: 0, parameters: {} });
const turn = { label: "Turn the sign", operations: [] };
const port = (name: string, isInput: boolean): PortView =>
  ({
    name,
    isInput,
    side: isInput ? "left" : "right",
    kind: "real",
    plug: isInput ? "in one" : "out one",
    takes: [isInput ? "out one" : "in one"],
    domain: null,
    action: isInput ? turn : null,
  }) as unknown as PortView;
const view = { width: 64, height: 48, shape: "plate", ports: [port("u", true), port("y", false)] } as unknown as PartView;

/** a → b in a row, c without wires below, d free to the right. */
const diagram = {
  notes: { n1: { text: "Careful", x: 0, y: 300 } },
  areas: {},
  parts: { a: node(0, 0), b: node(160, 0), c: node(0, 160), d: node(320, 0) },
  wires: { ab: { from: { part: "a", port: "y" }, to: { part: "b", port: "u" }, bends: [] } },
} as unknown as Diagram;
const views = { a: view, b: view, c: view, d: view };
const scene = { diagram, views, routes: new RouteCache().routes(diagram, views, null) };
const situation = (...selection: string[]): Situation => ({
  scene,
  selection: new Set(selection),
  viewport: { x: 0, y: 0, zoom: 1 },
});
const at = (x: number, y: number, held: Partial<Pointer> = {}): Pointer => ({
  at: { x, y },
  screen: { x, y },
  shift: false,
  copy: false,
  ...held,
});

/** A gesture from press to release, with what it asked for on the way. */
function gesture(under: Under, from: Pointer, to: Pointer, where = situation()): { tool: Tool; intents: Intent[] } {
  const pressed = press(from, under, where);
  const moved = drag(pressed.tool, to, where);
  const let_go = release(moved.tool, to, where);
  return { tool: let_go.tool, intents: [...pressed.intents, ...moved.intents, ...let_go.intents] };
}

describe("a wire from a port that goes either way", () => {
  const either = { ...port("m", true), plug: "either any", takes: ["in one", "out one", "either bundle"], isEither: true } as PortView;
  const views = { a: view, b: { ...view, ports: [either] } as PartView, c: view, d: view };
  const where: Situation = { ...situation(), scene: { ...scene, views, diagram: { ...diagram, wires: {} } } };
  const connected = (from: Pointer, under: Under, to: Pointer) => gesture(under, from, to, where).intents.at(-1);

  it("comes from the output that it is drawn to", () =>
    expect(connected(at(160, 24), { part: "b", port: { name: "m", isInput: true } }, at(64, 24))).toMatchObject({
      kind: "connect",
      from: { part: "a", port: "y" },
      to: { part: "b", port: "m" },
    }));

  it("goes to the input that it is drawn to", () =>
    expect(connected(at(160, 24), { part: "b", port: { name: "m", isInput: true } }, at(320, 24))).toMatchObject({
      kind: "connect",
      from: { part: "b", port: "m" },
      to: { part: "d", port: "u" },
    }));
});

describe("a press on a part", () => {
  it("selects it, and lets a part of a selection keep the others", () => {
    expect(press(at(10, 10), { part: "a" }, situation()).intents).toEqual([{ kind: "select", ids: ["a"] }]);
    expect(press(at(10, 10), { part: "a" }, situation("a", "b")).intents).toEqual([]);
  });

  it("adds with Shift and takes out again", () => {
    expect(press(at(10, 10, { shift: true }), { part: "a" }, situation("b")).intents).toEqual([{ kind: "select", ids: ["b", "a"] }]);
    const { intents } = gesture({ part: "a" }, at(10, 10, { shift: true }), at(10, 10, { shift: true }), situation("a", "b"));
    expect(intents).toEqual([{ kind: "select", ids: ["b"] }]);
  });

  it("moves it on the grid, with all that is selected", () => {
    const { intents } = gesture({ part: "a" }, at(10, 10), at(31, 10), situation("a", "b"));
    expect(intents).toEqual([{ kind: "move", ids: new Set(["a", "b"]), dx: 24, dy: 0 }]);
  });

  it("copies with a modifier", () => {
    const { intents } = gesture({ part: "a" }, at(10, 10, { copy: true }), at(10, 90, { copy: true }), situation("a"));
    expect(intents).toEqual([{ kind: "copy", ids: new Set(["a"]), dx: 0, dy: 80 }]);
  });

  it("goes into the wire it is dropped on, where it has none of its own", () => {
    const { intents } = gesture({ part: "c" }, at(32, 184), at(112, 24));
    expect(intents.at(-1)).toEqual({ kind: "insert", part: "c", wire: "ab", input: "u", output: "y" });
    expect(gesture({ part: "b" }, at(170, 10), at(112, 24)).intents.map((i) => i.kind)).toEqual(["select", "move"]);
  });

  it("turns a sign at once", () => {
    expect(press(at(0, 24), { part: "a", sign: "u" }, situation())).toEqual({ tool: idle, intents: [{ kind: "act", action: turn }] });
  });
});

describe("a wire", () => {
  const out = { part: "b", port: { name: "y", isInput: false } };

  it("joins the port it ends near, from either end", () => {
    expect(gesture(out, at(224, 24), at(318, 22)).intents).toEqual([
      { kind: "connect", from: { part: "b", port: "y" }, to: { part: "d", port: "u" }, bends: [], replacing: undefined },
    ]);
    const back = gesture({ part: "d", port: { name: "u", isInput: true } }, at(320, 24), at(226, 22)).intents;
    expect(back).toEqual([{ kind: "connect", from: { part: "b", port: "y" }, to: { part: "d", port: "u" }, bends: [] }]);
  });

  it("does not end at a port that does not take it", () => {
    const { intents } = gesture(out, at(224, 24), at(64, 24));
    expect(intents.map((i) => i.kind)).toEqual(["refuse"]);
  });

  it("offers a part where it ends in the open, but not after a mere click", () => {
    expect(gesture(out, at(224, 24), at(301, 202)).intents).toEqual([
      { kind: "place", at: { x: 304, y: 200 }, screen: { x: 301, y: 202 }, from: { part: "b", port: "y" } },
    ]);
    expect(gesture(out, at(224, 24), at(228, 26)).intents).toEqual([]);
  });

  it("comes off when its input is pulled into the open, and goes over to another", () => {
    const input = { part: "b", port: { name: "u", isInput: true } };
    expect(gesture(input, at(160, 24), at(100, 120)).intents).toEqual([{ kind: "disconnect", wire: "ab" }]);
    expect(gesture(input, at(160, 24), at(320, 24)).intents).toEqual([
      { kind: "connect", from: { part: "a", port: "y" }, to: { part: "d", port: "u" }, bends: [], replacing: "ab" },
    ]);
  });

  it("branches off another with a modifier", () => {
    const { intents } = gesture({ wire: "ab" }, at(112, 24, { copy: true }), at(2, 184, { copy: true }));
    expect(intents).toMatchObject([{ kind: "connect", from: { part: "a", port: "y" }, to: { part: "c", port: "u" } }]);
  });

  it("is selected by a click and bent by a drag", () => {
    expect(gesture({ wire: "ab" }, at(112, 24), at(112, 24)).intents).toEqual([{ kind: "select", ids: ["ab"] }]);
    expect(gesture({ wire: "ab" }, at(112, 24), at(112, 80)).intents.at(-1)).toMatchObject({ kind: "bend", wire: "ab" });
  });
});

describe("a press in the open", () => {
  it("boxes parts, and clears the selection where it does not move", () => {
    expect(gesture({}, at(-20, -20), at(180, 60)).intents).toEqual([{ kind: "select", ids: ["a", "b"] }]);
    expect(gesture({}, at(100, 100), at(101, 101), situation("a")).intents).toEqual([{ kind: "select", ids: [] }]);
    expect(gesture({}, at(100, 100, { shift: true }), at(101, 101), situation("a")).intents).toEqual([]);
  });

  it("adds to the selection with Shift", () => {
    expect(gesture({}, at(-20, 140, { shift: true }), at(80, 220), situation("b")).intents).toEqual([{ kind: "select", ids: ["b", "c"] }]);
  });

  it("moves the view with another button, from where the view was", () => {
    const { tool } = pressToPan(at(50, 50), { ...situation(), viewport: { x: 7, y: 9, zoom: 0.5 } });
    const moved = drag(tool, at(60, 45), { ...situation(), viewport: { x: 100, y: 100, zoom: 0.5 } });
    expect(moved.intents).toEqual([{ kind: "show", viewport: { x: 17, y: 4, zoom: 0.5 } }]);
    expect(release(moved.tool, at(60, 45), situation())).toEqual({ tool: idle, intents: [] });
  });
});

describe("any gesture", () => {
  it("ends idle, whatever it met", () => {
    const unders: Under[] = [{}, { part: "a" }, { part: "gone" }, { part: "a", port: { name: "gone", isInput: true } }, { wire: "gone" }];
    for (const under of unders)
      for (const copy of [false, true]) expect(gesture(under, at(5, 5, { copy }), at(90, 77, { copy })).tool).toEqual(idle);
  });
});

describe("a caption", () => {
  it("is moved like a part", () => {
    const note = press(at(4, 304), { part: "n1" }, situation());
    expect(note.intents).toEqual([{ kind: "select", ids: ["n1"] }]);
    const dragged = drag(note.tool, at(44, 304), situation());
    expect(release(dragged.tool, at(44, 304), situation()).intents).toEqual([{ kind: "move", ids: new Set(["n1"]), dx: 40, dy: 0 }]);
  });
});

describe("a wire", () => {
  const pulled = (to: [number, number]) => {
    const begun = press(at(64, 24), { part: "a", port: { name: "y", isInput: false } }, situation());
    const dragged = drag(begun.tool, at(...to), situation());
    return release(dragged.tool, at(...to), situation()).intents[0];
  };

  it("that is let go on a part takes the port of it that fits", () => {
    expect(pulled([352, 30])).toMatchObject({ kind: "connect", from: { part: "a", port: "y" }, to: { part: "d", port: "u" } });
  });

  it("that cannot end at a port says so instead of offering parts", () => {
    const output = views.d.ports.find((p) => !p.isInput);
    expect(output?.name).toBe("y");
    expect(pulled([320 + views.d.width, 24])).toMatchObject({ kind: "refuse", to: { part: "d", port: "y" } });
  });
});

describe("the far corner of an area", () => {
  const area = { text: "Net", x: 0, y: 0, width: 160, height: 96, tone: "sea" };
  const where: Situation = { ...situation(), scene: { ...scene, diagram: { ...diagram, areas: { a1: area } } as unknown as Diagram } };

  it("sizes it on the grid, wherever the corner was taken", () => {
    expect(gesture({ corner: "a1" }, at(158, 94), at(199, 145), where).intents).toEqual([
      { kind: "select", ids: ["a1"] },
      { kind: "size", id: "a1", width: 200, height: 144 },
    ]);
  });

  it("leaves room for a caption, and does nothing where it is let go at once", () => {
    expect(gesture({ corner: "a1" }, at(160, 96), at(-50, 10), where).intents.at(-1)).toEqual({
      kind: "size",
      id: "a1",
      width: 48,
      height: 48,
    });
    expect(gesture({ corner: "a1" }, at(160, 96), at(161, 97), where).intents).toEqual([{ kind: "select", ids: ["a1"] }]);
  });
});

describe("a port of a subsystem", () => {
  const plate = { ...view, opens: "d1" } as unknown as PartView;
  const where: Situation = { ...situation(), scene: { ...scene, views: { ...views, a: plate } } };
  const port = { name: "u", isInput: true };

  it("is moved along the plate with Shift", () => {
    const { intents } = gesture({ part: "a", port }, at(0, 24, { shift: true }), at(30, 1, { shift: true }), where);
    expect(intents).toEqual([{ kind: "movePort", part: "a", port: "u", side: "top", index: 0 }]);
  });

  it("begins a wire without", () => {
    expect(press(at(0, 24), { part: "a", port }, where).tool.kind).toBe("wire");
  });
});
