import { describe, expect, it } from "vitest";
import type { Chart, ChartState, ChartTransition } from "../../state/document";
import { depthOf, distanceTo, pointAt, stateAround, waysOf, within, type Way } from "./geometry";
import { bodyOf, kindsOf, linesOf } from "./labels";
import { drag, IDLE, press, release, targetAt, type Situation } from "./tools";

const state = (more: Partial<ChartState>): ChartState => ({
  name: "S",
  kind: "state",
  order: 0,
  x: 0,
  y: 0,
  width: 128,
  height: 64,
  ...more,
});
const go = (from: string, to?: string, more: Partial<ChartTransition> = {}): ChartTransition => ({
  from,
  ...(to ? { to } : {}),
  isLocal: false,
  priority: 1,
  bends: [],
  ...more,
});

/** A state around two, and one beside it. */
const chart: Chart = {
  kind: "chart",
  name: "C",
  names: {
    n1: { name: "mode", kind: "input", type: "{manual, track}", order: 0 },
    n2: { name: "rudder", kind: "output", type: "Real", order: 1 },
  },
  states: {
    outer: state({ width: 400, height: 240 }),
    a: state({ x: 20, y: 60, parent: "outer" }),
    b: state({ x: 240, y: 60, parent: "outer" }),
    c: state({ x: 500, y: 60 }),
    h: state({ x: 40, y: 180, kind: "history", parent: "outer" }),
  },
  transitions: { t1: go("a", "b"), t2: go("b", "a"), t3: go("c", "outer"), t4: go("a", "a") },
};

const at = (x: number, y: number) => ({ at: { x, y }, screen: { x, y }, shift: false });
const situation: Situation = { chart, selection: new Set(), viewport: { x: 0, y: 0, zoom: 1 } };

describe("a chart's geometry", () => {
  it("knows what stands in what", () => {
    expect(within(chart, "outer").sort()).toEqual(["a", "b", "h"]);
    expect(depthOf(chart, "a")).toBe(1);
    expect(stateAround(chart, { x: 30, y: 70 }, new Set())).toBe("a");
    expect(stateAround(chart, { x: 30, y: 70 }, new Set(["a"]))).toBe("outer");
    expect(stateAround(chart, { x: 450, y: 300 }, new Set())).toBeNull();
  });

  it("leads from border to border, with room between the two directions", () => {
    const ways = waysOf(chart);
    const [there, back] = [ways.get("t1") as Way, ways.get("t2") as Way];
    expect([there.from.x, there.to.x]).toEqual([148, 240]);
    expect([back.from.x, back.to.x]).toEqual([240, 148]);
    expect(Math.abs(there.from.y - back.from.y)).toBeGreaterThanOrEqual(20);
    expect(ways.get("t3")?.to.x).toBe(400);
    expect(distanceTo(there, pointAt(there, 0.5))).toBeLessThan(1e-9);
  });

  it("goes through the point that somebody bent it to", () => {
    const bent = { ...chart, transitions: { t: go("a", "c", { bends: [{ x: 300, y: 200 }] }) } };
    expect(pointAt(waysOf(bent).get("t") as Way, 0.5)).toEqual({ x: 300, y: 200 });
  });
});

describe("texts of a chart", () => {
  const kinds = kindsOf(chart);

  it("are written by what they name", () => {
    const line = linesOf(go("a", "b", { guard: "mode == track", event: "go" }), kinds).flat();
    expect(line.filter((p) => p.kind !== "plain" && p.kind !== "quiet")).toEqual([
      { text: "go", kind: "event" },
      { text: "mode", kind: "input" },
      { text: "track", kind: "word" },
    ]);
  });

  it("break where a state is narrow, and say when each is done", () => {
    const lines = bodyOf({ entry: "rudder := 0; mode := manual", exit: "rudder := 1" }, kinds, 40);
    expect(lines.map((l) => l.map((p) => p.text).join(""))).toEqual(["entry rudder := 0", "   mode := manual", "exit rudder := 1"]);
    expect(bodyOf({ while: "rudder := mode + mode + mode + mode" }, kinds, 20).length).toBeGreaterThan(1);
  });
});

describe("the pointer on a chart", () => {
  it("draws a transition from a handle to the state that it is let go over", () => {
    const begun = press(at(148, 92), { state: "a", handle: "draw" }, situation);
    expect(begun.tool.kind).toBe("draw");
    const over = drag(begun.tool, at(300, 90), situation);
    expect(release(over.tool, at(300, 90), situation)).toEqual({
      tool: IDLE,
      intents: [{ kind: "connect", from: "a", to: "b", at: { x: 300, y: 90 } }],
    });
  });

  it("takes what has no size of its own before the state around it", () => {
    expect(targetAt(chart, { x: 50, y: 190 })).toBe("h");
  });

  it("moves a state on the grid, into the state that it is let go over", () => {
    const begun = press(at(510, 70), { state: "c" }, situation);
    expect(begun.intents).toEqual([{ kind: "select", ids: ["c"] }]);
    const moved = drag(begun.tool, at(213, 141), situation);
    expect(release(moved.tool, at(213, 141), situation).intents).toEqual([
      { kind: "move", ids: ["c"], dx: expect.any(Number) as number, dy: expect.any(Number) as number, parent: "outer" },
    ]);
  });

  it("selects what lies wholly in a band", () => {
    const begun = press(at(490, 50), {}, situation);
    expect(release(begun.tool, at(700, 200), situation).intents).toEqual([{ kind: "select", ids: ["c"] }]);
  });

  it("does not take a click for a bend", () => {
    const begun = press(at(194, 92), { transition: "t1" }, situation);
    expect(release(drag(begun.tool, at(195, 93), situation).tool, at(195, 93), situation).intents).toEqual([]);
    expect(release(drag(begun.tool, at(220, 140), situation).tool, at(220, 140), situation).intents).toEqual([
      { kind: "bend", transition: "t1", at: { x: 220, y: 140 } },
    ]);
  });
});
