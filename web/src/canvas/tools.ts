import type { Point, PortReference, WireNode } from "../state/document";
import type { ActionView } from "../api/client";
import { edgeAt, leaves, nearestSegment, snap, type Side } from "./geometry";
import { branchCorners, insertionAt, partsInBox, placeOf, portOf, refusingPort, targetAt, wireAt, type Scene } from "./scene";
import type { Viewport } from "./viewport";

/** What the pointer is doing. Every gesture is one of these states. */
export type Tool =
  | { kind: "idle" }
  | { kind: "pan"; start: Point; offset: Point }
  | { kind: "box"; start: Point; now: Point; add: boolean }
  | { kind: "move"; start: Point; dx: number; dy: number; ids: ReadonlySet<string>; copy: boolean; clicked: string; moved: boolean }
  | WireTool
  | SegmentTool
  | PortTool
  | SizeTool;

/** The far corner of an area being dragged. */
export interface SizeTool {
  kind: "size";
  id: string;
  /** What lies between the pointer and the corner. */
  offset: Point;
  width: number;
  height: number;
}

/** A port being moved along the edge of a subsystem's plate. */
export interface PortTool {
  kind: "port";
  part: string;
  port: string;
  start: Point;
  now: Point;
}

/** A wire being drawn, or its end being pulled off. */
export interface WireTool {
  kind: "wire";
  port: PortReference;
  isInput: boolean;
  start: Point;
  now: Point;
  bends: Point[];
  replacing?: string;
  target: { part: string; port: string } | null;
}

/** A stretch of a wire being moved. */
export interface SegmentTool {
  kind: "segment";
  wire: string;
  index: number;
  vertical: boolean;
  points: Point[];
  start: Point;
  now: Point;
}

/** What lies under the pointer. */
export interface Under {
  part?: string;
  /** A port of that part. */
  port?: { name: string; isInput: boolean };
  /** The port whose sign it is. */
  sign?: string;
  wire?: string;
  /** The area whose far corner it is. */
  corner?: string;
}

/** The pointer: where it is, and what is held with it. */
export interface Pointer {
  /** On the diagram. */
  at: Point;
  /** On the screen. */
  screen: Point;
  shift: boolean;
  /** Alt, Control or Command: copies parts, branches wires. */
  copy: boolean;
}

/** What gestures meet. */
export interface Situation {
  scene: Scene;
  selection: ReadonlySet<string>;
  viewport: Viewport;
}

/** What a gesture asks for; whoever holds the model makes edits of it. */
export type Intent =
  | { kind: "select"; ids: string[] }
  | { kind: "show"; viewport: Viewport }
  | { kind: "act"; action: ActionView }
  | { kind: "move" | "copy"; ids: ReadonlySet<string>; dx: number; dy: number }
  | { kind: "insert"; part: string; wire: string; input: string; output: string }
  | { kind: "connect"; from: PortReference; to: PortReference; bends: Point[]; replacing?: string }
  | { kind: "refuse"; from: PortReference; to: PortReference }
  | { kind: "disconnect"; wire: string }
  | { kind: "bend"; wire: string; bends: Point[] }
  | { kind: "size"; id: string; width: number; height: number }
  | { kind: "movePort"; part: string; port: string; side: Side; index: number }
  | { kind: "place"; at: Point; screen: Point; from: PortReference };

/** The state that follows, and what is asked for on the way. */
export interface Step {
  tool: Tool;
  intents: Intent[];
}

export const idle: Tool = { kind: "idle" };

/** How far the pointer moves before a press becomes a drag, in diagram pixels. */
const SLACK = { box: 4, segment: 5, wire: 12 };

/** Areas do not become smaller than this. */
const LEAST_AREA = 48;

const step = (tool: Tool, ...intents: Intent[]): Step => ({ tool, intents });

/** A press of the main button. */
export function press(pointer: Pointer, under: Under, { scene, selection }: Situation): Step {
  const { at } = pointer;
  const area = under.corner === undefined ? undefined : scene.diagram.areas[under.corner];
  if (under.corner !== undefined && area) {
    const offset = { x: area.x + area.width - at.x, y: area.y + area.height - at.y };
    return step(
      { kind: "size", id: under.corner, offset, width: area.width, height: area.height },
      { kind: "select", ids: [under.corner] },
    );
  }
  if (under.part && under.sign) {
    const action = portOf(scene, { part: under.part, port: under.sign })?.action;
    return action ? step(idle, { kind: "act", action }) : step(idle);
  }
  // With Shift a port of a subsystem is moved on its plate.
  if (under.part && under.port && pointer.shift && scene.views[under.part]?.opens)
    return step({ kind: "port", part: under.part, port: under.port.name, start: at, now: at });
  if (under.part && under.port) return step(startWire(at, { part: under.part, port: under.port.name }, under.port.isInput, scene));
  if (under.part) {
    const part = under.part;
    const { parts, notes, areas } = scene.diagram;
    const ids = selection.has(part) ? selection : new Set(pointer.shift ? [...selection, part] : [part]);
    const tool: Tool = {
      kind: "move",
      start: at,
      dx: 0,
      dy: 0,
      ids: new Set([...ids].filter((i) => i in parts || i in notes || i in areas)),
      copy: pointer.copy,
      clicked: part,
      moved: false,
    };
    return selection.has(part) ? step(tool) : step(tool, { kind: "select", ids: [...ids] });
  }
  if (under.wire) return pressOnWire(pointer, under.wire, scene, selection);
  return step({ kind: "box", start: at, now: at, add: pointer.shift });
}

/** A press of another button moves the view. */
export const pressToPan = ({ screen }: Pointer, { viewport }: Situation): Step =>
  step({ kind: "pan", start: screen, offset: { x: viewport.x, y: viewport.y } });

function startWire(at: Point, port: PortReference, isInput: boolean, scene: Scene): Tool {
  // Pulling at a wired input takes the end of that wire along.
  const joined = isInput
    ? Object.entries(scene.diagram.wires).find(([, w]) => w.to.part === port.part && w.to.port === port.port)
    : undefined;
  const common = { kind: "wire" as const, now: at, bends: [], target: null };
  if (!joined) return { ...common, port, isInput, start: placeOf(scene, port) };
  const [replacing, { from }] = joined;
  return { ...common, port: from, isInput: false, start: placeOf(scene, from), replacing };
}

function pressOnWire({ at, shift, copy }: Pointer, wire: string, scene: Scene, selection: ReadonlySet<string>): Step {
  const points = scene.routes.get(wire) ?? [];
  const near = nearestSegment(points, at);
  const w = scene.diagram.wires[wire];
  if (copy && w) {
    // Branch: the new wire follows the old one up to here.
    const bends = [...points.slice(1, near.index + 1), near.point];
    const start = { x: snap(near.point.x), y: snap(near.point.y) };
    return step({ kind: "wire", port: w.from, isInput: false, start, now: at, bends, target: null });
  }
  const [a, b] = [points[near.index], points[near.index + 1]];
  const tool: Tool =
    a && b ? { kind: "segment", wire, index: near.index, vertical: a.x === b.x && a.y !== b.y, points, start: at, now: at } : idle;
  return step(tool, { kind: "select", ids: shift ? [...selection, wire] : [wire] });
}

/** The pointer moves. */
export function drag(tool: Tool, { at, screen }: Pointer, { scene, viewport }: Situation): Step {
  switch (tool.kind) {
    case "idle":
      return step(tool);
    case "pan":
      return step(tool, {
        kind: "show",
        viewport: { ...viewport, x: tool.offset.x + screen.x - tool.start.x, y: tool.offset.y + screen.y - tool.start.y },
      });
    case "box":
      return step({ ...tool, now: at });
    case "move": {
      const [dx, dy] = [snap(at.x - tool.start.x), snap(at.y - tool.start.y)];
      return step(dx === tool.dx && dy === tool.dy ? tool : { ...tool, dx, dy, moved: true });
    }
    case "wire":
      return step({ ...tool, now: at, target: sameTarget(tool.target, targetAt(scene, at, tool.port)) });
    case "segment":
      return step({ ...tool, now: { x: snap(at.x), y: snap(at.y) } });
    case "port":
      return step({ ...tool, now: at });
    case "size": {
      const area = scene.diagram.areas[tool.id];
      if (!area) return step(idle);
      const [width, height] = [snap(at.x + tool.offset.x - area.x), snap(at.y + tool.offset.y - area.y)];
      return step({ ...tool, width: Math.max(LEAST_AREA, width), height: Math.max(LEAST_AREA, height) });
    }
  }
}

/** The target that was there already, where it is the same: what follows from it need not be found again. */
const sameTarget = (before: WireTool["target"], now: WireTool["target"]) =>
  before && now && before.part === now.part && before.port === now.port ? before : now;

/** The button is let go: the gesture ends with what it was for. */
export function release(tool: Tool, pointer: Pointer, { scene, selection }: Situation): Step {
  const { at, shift } = pointer;
  switch (tool.kind) {
    case "idle":
    case "pan":
      return step(idle);
    case "box": {
      if (Math.abs(at.x - tool.start.x) < SLACK.box && Math.abs(at.y - tool.start.y) < SLACK.box)
        return tool.add ? step(idle) : step(idle, { kind: "select", ids: [] });
      const inside = partsInBox(scene, tool.start, at);
      return step(idle, { kind: "select", ids: tool.add ? [...selection, ...inside] : inside });
    }
    case "move":
      return releaseParts(tool, at, shift, scene, selection);
    case "wire":
      return releaseWire(tool, pointer, scene);
    case "size": {
      const area = scene.diagram.areas[tool.id];
      const isSame = !area || (area.width === tool.width && area.height === tool.height);
      return isSame ? step(idle) : step(idle, { kind: "size", id: tool.id, width: tool.width, height: tool.height });
    }
    case "port": {
      const [node, view] = [scene.diagram.parts[tool.part], scene.views[tool.part]];
      if (!node || !view || Math.hypot(at.x - tool.start.x, at.y - tool.start.y) < SLACK.segment) return step(idle);
      return step(idle, { kind: "movePort", part: tool.part, port: tool.port, ...edgeAt(node, view, tool.port, at) });
    }
    case "segment": {
      if (tool.now === tool.start || Math.hypot(tool.now.x - tool.start.x, tool.now.y - tool.start.y) < SLACK.segment) return step(idle);
      return step(idle, { kind: "bend", wire: tool.wire, bends: draggedCorners(tool.points, tool.index, tool.vertical, tool.now) });
    }
  }
}

function releaseParts(
  tool: Extract<Tool, { kind: "move" }>,
  at: Point,
  shift: boolean,
  scene: Scene,
  selection: ReadonlySet<string>,
): Step {
  const { ids, dx, dy, clicked } = tool;
  if (tool.moved && tool.copy) return step(idle, { kind: "copy", ids, dx, dy });
  if (tool.moved) {
    const insertion = ids.size === 1 ? insertionAt(scene, clicked, at) : null;
    const move: Intent = { kind: "move", ids, dx, dy };
    return insertion ? step(idle, move, { kind: "insert", part: clicked, ...insertion }) : step(idle, move);
  }
  if (!shift) return step(idle, { kind: "select", ids: [clicked] });
  const isFurther = selection.has(clicked) && selection.size > 1;
  return isFurther ? step(idle, { kind: "select", ids: [...selection].filter((i) => i !== clicked) }) : step(idle);
}

/** The wire that joins where one was begun with a port. */
function joining(scene: Scene, tool: WireTool, target: PortReference): WireNode {
  const own = portOf(scene, tool.port);
  const isLeaving = own && !own.domain ? leaves(own, portOf(scene, target)) : !tool.isInput;
  const [from, to] = isLeaving ? [tool.port, target] : [target, tool.port];
  return { from, to, bends: tool.bends.length > 0 ? branchCorners(scene, tool.port, tool.bends, target) : [] };
}

/** Under this id the wire that is being drawn has its route. */
export const DRAFT = "draft";

/** The wires as they will be when the one being drawn is let go at its target. */
export function wiresWith(scene: Scene, tool: WireTool): Record<string, WireNode> {
  const { wires } = scene.diagram;
  if (!tool.target) return wires;
  const draft = joining(scene, tool, tool.target);
  const isPhysical = !!portOf(scene, draft.to)?.domain;
  const gone = (id: string, w: WireNode) =>
    id === tool.replacing || (!isPhysical && w.to.part === draft.to.part && w.to.port === draft.to.port);
  return { ...Object.fromEntries(Object.entries(wires).filter(([id, w]) => !gone(id, w))), [DRAFT]: draft };
}

/** A wire ends at a port, joins another one, is taken away, or ends in the open where a part is to be offered. */
function releaseWire(tool: WireTool, { at, screen }: Pointer, scene: Scene): Step {
  const target = tool.target ?? targetAt(scene, at, tool.port);
  if (target) return step(idle, { kind: "connect", ...joining(scene, tool, target), replacing: tool.replacing });
  const trunk = wireAt(scene, at, tool.port);
  const joined = trunk && scene.diagram.wires[trunk.id];
  if (joined) {
    const bends = branchCorners(scene, joined.from, trunk.corners, tool.port);
    return step(idle, { kind: "connect", from: joined.from, to: tool.port, bends });
  }
  if (Math.hypot(at.x - tool.start.x, at.y - tool.start.y) < SLACK.wire) return step(idle);
  const refusing = refusingPort(scene, at, tool.port);
  if (refusing) return step(idle, { kind: "refuse", from: tool.port, to: refusing });
  if (tool.replacing) return step(idle, { kind: "disconnect", wire: tool.replacing });
  return step(idle, { kind: "place", at: { x: snap(at.x), y: snap(at.y) }, screen, from: tool.port });
}

/** Corner points of a route whose stretch has been dragged to the pointer. */
export function draggedCorners(points: readonly Point[], index: number, vertical: boolean, now: Point): Point[] {
  const moved = points.map((p, i) =>
    i === index || i === index + 1 ? (vertical ? { x: now.x, y: p.y } : { x: p.x, y: now.y }) : { ...p },
  );
  const first = points[0] as Point;
  const last = points[points.length - 1] as Point;
  const result: Point[] = moved.slice(1, -1);
  // Dragging a stretch that ends at a port leaves a short stub there.
  if (index === 0 && !vertical) result.unshift({ x: first.x + 16, y: first.y }, { x: first.x + 16, y: now.y });
  if (index + 1 === points.length - 1 && !vertical) result.push({ x: last.x - 16, y: now.y }, { x: last.x - 16, y: last.y });
  return result;
}
