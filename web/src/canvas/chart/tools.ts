import type { Chart, ChartState, Point } from "../../state/document";
import { snap } from "../geometry";
import type { Viewport } from "../viewport";
import { boxOf, contains, stateAround, within, type Box } from "./geometry";

/** The pointer on a chart: a tool for what is under way, and intents for what is to be done. */

export type Tool =
  | { kind: "idle" }
  | { kind: "pan"; start: Point; from: Viewport }
  | { kind: "band"; start: Point; at: Point }
  | { kind: "move"; ids: readonly string[]; start: Point; dx: number; dy: number; into: string | null }
  | { kind: "size"; id: string; start: Point; dx: number; dy: number }
  | { kind: "draw"; from: string; at: Point; target: string | null }
  | { kind: "turn"; transition: string; at: Point; target: string | null }
  | { kind: "bend"; transition: string; at: Point; moved: boolean };

export type Intent =
  | { kind: "select"; ids: readonly string[] }
  | { kind: "show"; viewport: Viewport }
  | { kind: "move"; ids: readonly string[]; dx: number; dy: number; parent: string | null }
  | { kind: "size"; id: string; width: number; height: number }
  | { kind: "connect"; from: string; to: string | null; at: Point }
  | { kind: "retarget"; transition: string; to: string }
  | { kind: "bend"; transition: string; at: Point };

/** What lies under the pointer. */
export interface Under {
  state?: string | undefined;
  transition?: string | undefined;
  /** The handle of a state from which transitions are drawn, its corner, or the head of a transition. */
  handle?: "draw" | "corner" | "head" | undefined;
}

export interface Pointer {
  at: Point;
  screen: Point;
  shift: boolean;
}

export interface Situation {
  chart: Chart;
  selection: ReadonlySet<string>;
  viewport: Viewport;
}

export interface Step {
  tool: Tool;
  intents: readonly Intent[];
}

export const IDLE: Tool = { kind: "idle" };

const LEAST = { width: 64, height: 40 };

/** How far the pointer may move in a click, in chart pixels. */
const SLACK = 3;

export function press(p: Pointer, under: Under, s: Situation): Step {
  if (under.transition && under.handle === "head")
    return { tool: { kind: "turn", transition: under.transition, at: p.at, target: null }, intents: [select(under.transition)] };
  if (under.transition) {
    const tool: Tool = { kind: "bend", transition: under.transition, at: p.at, moved: false };
    return {
      tool,
      intents: s.selection.has(under.transition) && !p.shift ? [] : [{ kind: "select", ids: chosen(under.transition, p, s) }],
    };
  }
  if (under.state && under.handle === "draw") return { tool: { kind: "draw", from: under.state, at: p.at, target: null }, intents: [] };
  if (under.state && under.handle === "corner")
    return { tool: { kind: "size", id: under.state, start: p.at, dx: 0, dy: 0 }, intents: [select(under.state)] };
  if (under.state) {
    const ids = s.selection.has(under.state) && !p.shift ? [...s.selection] : chosen(under.state, p, s);
    const moved = ids.filter((id) => id in s.chart.states);
    return {
      tool: { kind: "move", ids: moved, start: p.at, dx: 0, dy: 0, into: null },
      intents: s.selection.has(under.state) && !p.shift ? [] : [{ kind: "select", ids }],
    };
  }
  return { tool: { kind: "band", start: p.at, at: p.at }, intents: p.shift ? [] : [{ kind: "select", ids: [] }] };
}

const select = (id: string): Intent => ({ kind: "select", ids: [id] });

/** What is selected after a click: with Shift one more, or one less. */
const chosen = (id: string, p: Pointer, s: Situation): string[] =>
  !p.shift ? [id] : s.selection.has(id) ? [...s.selection].filter((i) => i !== id) : [...s.selection, id];

export const pressToPan = (p: Pointer, s: Situation): Step => ({ tool: { kind: "pan", start: p.screen, from: s.viewport }, intents: [] });

export function drag(tool: Tool, p: Pointer, s: Situation): Step {
  switch (tool.kind) {
    case "pan":
      return {
        tool,
        intents: [
          {
            kind: "show",
            viewport: { ...tool.from, x: tool.from.x + p.screen.x - tool.start.x, y: tool.from.y + p.screen.y - tool.start.y },
          },
        ],
      };
    case "band":
      return { tool: { ...tool, at: p.at }, intents: [] };
    case "move": {
      const [dx, dy] = [snap(p.at.x - tool.start.x), snap(p.at.y - tool.start.y)];
      const into = stateAround(s.chart, p.at, withInner(s.chart, tool.ids));
      return { tool: { ...tool, dx, dy, into }, intents: [] };
    }
    case "size":
      return { tool: { ...tool, dx: snap(p.at.x - tool.start.x), dy: snap(p.at.y - tool.start.y) }, intents: [] };
    case "draw":
    case "turn":
      return { tool: { ...tool, at: p.at, target: targetAt(s.chart, p.at) }, intents: [] };
    case "bend":
      return { tool: { ...tool, moved: tool.moved || Math.hypot(p.at.x - tool.at.x, p.at.y - tool.at.y) > SLACK, at: p.at }, intents: [] };
    case "idle":
      return { tool, intents: [] };
  }
}

export function release(tool: Tool, p: Pointer, s: Situation): Step {
  const done = (...intents: Intent[]): Step => ({ tool: IDLE, intents });
  switch (tool.kind) {
    case "band": {
      const band = rectangle(tool.start, p.at);
      if (band.width < SLACK && band.height < SLACK) return done();
      const inside = Object.entries(s.chart.states)
        .filter(([, state]) => isIn(boxOf(state), band))
        .map(([id]) => id);
      return done({ kind: "select", ids: p.shift ? [...new Set([...s.selection, ...inside])] : inside });
    }
    case "move":
      return tool.dx === 0 && tool.dy === 0 ? done() : done({ kind: "move", ids: tool.ids, dx: tool.dx, dy: tool.dy, parent: tool.into });
    case "size": {
      const state = s.chart.states[tool.id];
      if (!state || (tool.dx === 0 && tool.dy === 0)) return done();
      return done({ kind: "size", id: tool.id, ...sized(state, tool) });
    }
    case "draw":
      return done({ kind: "connect", from: tool.from, to: tool.target, at: p.at });
    case "turn":
      return tool.target ? done({ kind: "retarget", transition: tool.transition, to: tool.target }) : done();
    case "bend":
      return tool.moved ? done({ kind: "bend", transition: tool.transition, at: p.at }) : done();
    default:
      return done();
  }
}

/** The size that a state comes to have. */
export const sized = (state: ChartState, { dx, dy }: { dx: number; dy: number }) => ({
  width: Math.max(LEAST.width, snap(state.width + dx)),
  height: Math.max(LEAST.height, snap(state.height + dy)),
});

/** What a transition can lead to at a point: the innermost thing there. */
export function targetAt(chart: Chart, at: Point): string | null {
  const around = stateAround(chart, at, new Set());
  const dot = Object.entries(chart.states).find(([, s]) => contains(boxOf(s), at) && s.kind !== "state" && s.kind !== "parallel");
  return dot?.[0] ?? around;
}

/** The state that something placed at a point stands in. */
export const stateAt = (chart: Chart, at: Point): string | null => stateAround(chart, at, new Set());

/** States with all that stands in them. */
export const withInner = (chart: Chart, ids: Iterable<string>): ReadonlySet<string> =>
  new Set([...ids].flatMap((id) => [id, ...within(chart, id)]));

export const rectangle = (a: Point, b: Point): Box => ({
  x: Math.min(a.x, b.x),
  y: Math.min(a.y, b.y),
  width: Math.abs(a.x - b.x),
  height: Math.abs(a.y - b.y),
});

const isIn = (b: Box, outer: Box) =>
  b.x >= outer.x && b.y >= outer.y && b.x + b.width <= outer.x + outer.width && b.y + b.height <= outer.y + outer.height;
