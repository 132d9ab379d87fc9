import { beforeEach, describe, expect, it, vi } from "vitest";

const made: { label: string; operations: Operation[] }[] = [];
vi.mock("./model", () => ({
  edit: (label: string, operations: Operation[]) => made.push({ label, operations }),
  here: (...steps: string[]) => `/definitions/c/${steps.join("/")}`,
  restructure: () => Promise.resolve(null),
}));

import { useBench } from "./bench";
import { addState, addTransition, group, makeFirst, moveStates, removeChosen, reorder } from "./charts";
import { applyOperations, type Chart, type ChartState, type Operation } from "./document";

const state = (more: Partial<ChartState>): ChartState => ({
  name: "S",
  kind: "state",
  order: 1,
  x: 0,
  y: 0,
  width: 128,
  height: 64,
  ...more,
});

const chart: Chart = {
  kind: "chart",
  name: "C",
  names: { n: { name: "x", kind: "input", type: "Real", order: 0 } },
  states: {
    outer: state({ name: "Outer", width: 400, height: 240, initial: "a" }),
    a: state({ name: "A", x: 24, y: 64, parent: "outer", order: 2 }),
    b: state({ name: "B", x: 240, y: 64, parent: "outer", order: 3 }),
    c: state({ name: "A", x: 560, y: 64, order: 4 }),
  },
  transitions: {
    t1: { from: "a", to: "b", isLocal: false, priority: 1, bends: [{ x: 200, y: 40 }] },
    t2: { from: "a", to: "c", isLocal: false, priority: 2, bends: [] },
    t3: { from: "c", to: "outer", isLocal: false, priority: 1, bends: [] },
  },
};

/** The chart after the last edit. */
function after(): Chart {
  const operations = made.at(-1)?.operations ?? [];
  const document = applyOperations({ definitions: { c: chart } }, operations);
  return document.definitions.c;
}

beforeEach(() => {
  made.length = 0;
  useBench.setState({ chart, selection: new Set(), definition: "c" });
});

describe("edits of a chart", () => {
  it("place a state in the state that lies there, which grows where it has to", () => {
    const id = addState("state", { x: 380, y: 220 }, "outer");
    const now = after();
    expect(now.states[id]?.parent).toBe("outer");
    const [inner, outer] = [now.states[id] as ChartState, now.states.outer as ChartState];
    expect(outer.x + outer.width).toBeGreaterThanOrEqual(inner.x + inner.width + 16);
    expect(outer.y + outer.height).toBeGreaterThanOrEqual(inner.y + inner.height + 16);
  });

  it("draw a transition behind those of its state, with a new state where it is let go in the open", () => {
    const id = addTransition("a", null, { x: 500, y: 300 }, null);
    const now = after();
    expect(now.transitions[id]?.priority).toBe(3);
    expect(now.states[now.transitions[id]?.to as string]?.name).toBe("State");
  });

  it("move a state with all in it, and the bends between", () => {
    moveStates(["outer"], 16, 32, null);
    const now = after();
    expect([now.states.outer, now.states.a, now.states.b].map((s) => [s?.x, s?.y])).toEqual([
      [16, 32],
      [40, 96],
      [256, 96],
    ]);
    expect(now.transitions.t1?.bends).toEqual([{ x: 216, y: 72 }]);
    expect(now.states.c?.x).toBe(560);
  });

  it("put a state into another one under a name that is free there", () => {
    moveStates(["c"], -400, 80, "outer");
    expect(after().states.c).toMatchObject({ parent: "outer", name: "A 2" });
    useBench.setState({ chart: after() });
    moveStates(["c"], 600, 0, null);
    const operations = made.at(-1)?.operations ?? [];
    expect(operations).toContainEqual({ op: "remove", path: "/definitions/c/states/c/parent" });
  });

  it("take a state away with what stands in it and leads to it", () => {
    useBench.setState({ selection: new Set(["a", "n"]) });
    removeChosen();
    const now = after();
    expect(Object.keys(now.states)).toEqual(["outer", "b", "c"]);
    expect(Object.keys(now.transitions)).toEqual(["t3"]);
    expect(now.states.outer?.initial).toBeUndefined();
    expect(now.names).toEqual({});
  });

  it("say what is entered first, in a state and on the chart", () => {
    makeFirst("b");
    expect(after().states.outer?.initial).toBe("b");
    makeFirst("c");
    expect(after().states.c?.order).toBeLessThan(Math.min(...Object.values(chart.states).map((s) => s.order)));
  });

  it("change the order of transitions of one state alone", () => {
    reorder("t2", -1);
    const now = after();
    expect([now.transitions.t1?.priority, now.transitions.t2?.priority, now.transitions.t3?.priority]).toEqual([2, 1, 1]);
    made.length = 0;
    reorder("t1", -1);
    expect(made).toEqual([]);
  });

  it("group states that stand side by side, and no others", () => {
    useBench.setState({ selection: new Set(["a", "b"]) });
    const id = group() as string;
    const now = after();
    expect([now.states.a?.parent, now.states.b?.parent, now.states[id]?.parent]).toEqual([id, id, "outer"]);
    const around = now.states[id] as ChartState;
    expect(around.x).toBeLessThan(24);
    expect(around.x + around.width).toBeGreaterThan(240 + 128);
    useBench.setState({ selection: new Set(["a", "c"]) });
    expect(group()).toBeNull();
  });
});
