import type { PartView } from "../api/client";
import type { Diagram, Point } from "../state/document";
import type { Routes } from "./routes";

/** Something about a drawing that reads badly. */
export interface Hint {
  kind: "crossings" | "backward" | "overlap" | "through" | "port";
  text: string;
  /** What it is about: parts and wires. */
  ids: string[];
}

type Views = Record<string, PartView>;

interface Stretch {
  id: string;
  net: string;
  a: Point;
  b: Point;
}

/** The stretches of all wires, each with the source whose wires may share a way. */
function stretchesOf(diagram: Diagram, routes: Routes): { across: Stretch[]; down: Stretch[] } {
  const [across, down]: [Stretch[], Stretch[]] = [[], []];
  for (const [id, points] of routes) {
    const wire = diagram.wires[id];
    if (!wire) continue;
    const net = `${wire.from.part}.${wire.from.port}`;
    for (let i = 1; i < points.length; i++) {
      const [a, b] = [points[i - 1] as Point, points[i] as Point];
      if (a.y === b.y && a.x !== b.x) across.push({ id, net, a, b });
      else if (a.x === b.x && a.y !== b.y) down.push({ id, net, a, b });
    }
  }
  return { across, down };
}

/** Places where wires of different sources cross, as pairs of wires. */
export function crossingsOf(diagram: Diagram, routes: Routes): [string, string][] {
  const { across, down } = stretchesOf(diagram, routes);
  const sorted = across.sort((p, q) => p.a.y - q.a.y);
  const found: [string, string][] = [];
  for (const d of down) {
    const [top, bottom] = [Math.min(d.a.y, d.b.y), Math.max(d.a.y, d.b.y)];
    let low = 0;
    let high = sorted.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((sorted[middle] as Stretch).a.y <= top) low = middle + 1;
      else high = middle;
    }
    for (let i = low; i < sorted.length && (sorted[i] as Stretch).a.y < bottom; i++) {
      const s = sorted[i] as Stretch;
      if (s.net !== d.net && Math.min(s.a.x, s.b.x) < d.a.x && d.a.x < Math.max(s.a.x, s.b.x)) found.push([d.id, s.id]);
    }
  }
  return found;
}

/** Hints that are told of one kind; more of them say nothing new. */
const MOST = 40;

/** What reads badly in a diagram as it is drawn. */
export function hintsOf(diagram: Diagram, views: Views, routes: Routes): Hint[] {
  const name = (id: string) => diagram.parts[id]?.name ?? id;
  const hints: Hint[] = [];
  const crossings = crossingsOf(diagram, routes);
  if (crossings.length > 0)
    hints.push({
      kind: "crossings",
      text: crossings.length === 1 ? "Two wires cross" : `${crossings.length} crossings of wires`,
      ids: [...new Set(crossings.flat())],
    });
  const boxes = Object.entries(diagram.parts).flatMap(([id, p]) => {
    const v = views[id];
    return v ? [{ id, left: p.x, top: p.y, right: p.x + v.width, bottom: p.y + v.height }] : [];
  });
  const sorted = [...boxes].sort((a, b) => a.left - b.left);
  for (let i = 0; i < sorted.length; i++)
    for (
      let k = i + 1;
      k < sorted.length && (sorted[k] as (typeof boxes)[number]).left < (sorted[i] as (typeof boxes)[number]).right;
      k++
    ) {
      const [a, b] = [sorted[i] as (typeof boxes)[number], sorted[k] as (typeof boxes)[number]];
      if (a.top < b.bottom && b.top < a.bottom)
        hints.push({ kind: "overlap", text: `${name(a.id)} and ${name(b.id)} lie on each other`, ids: [a.id, b.id] });
    }
  for (const [id, w] of Object.entries(diagram.wires)) {
    const [from, to] = [diagram.parts[w.from.part], diagram.parts[w.to.part]];
    const port = views[w.from.part]?.ports.find((p) => p.name === w.from.port);
    const points = routes.get(id);
    if (!from || !to || !points) continue;
    // A feedback goes back and is none; what goes back and leads on from there is.
    if (!port?.domain && to.x + (views[w.to.part]?.width ?? 0) < from.x && !from.flip && !leadsBack(diagram, w.to.part, w.from.part))
      hints.push({ kind: "backward", text: `The wire from ${from.name} to ${to.name} runs back`, ids: [id] });
    const through = boxes.find(
      (b) => b.id !== w.from.part && b.id !== w.to.part && points.some((p, i) => i > 0 && cuts(points[i - 1] as Point, p, b)),
    );
    if (through)
      hints.push({
        kind: "through",
        text: `The wire from ${from.name} to ${to.name} runs through ${name(through.id)}`,
        ids: [id, through.id],
      });
  }
  for (const [id, p] of Object.entries(diagram.parts))
    if (/^(Input|Output|Bundle)Port$/.test(p.type) && !p.parameters.description)
      hints.push({ kind: "port", text: `The port ${p.name} does not say what it is`, ids: [id] });
  const count = new Map<string, number>();
  return hints.filter((h) => {
    const n = (count.get(h.kind) ?? 0) + 1;
    count.set(h.kind, n);
    return n <= MOST;
  });
}

/** Whether wires lead from one part to another. */
function leadsBack(diagram: Diagram, from: string, to: string): boolean {
  const seen = new Set([from]);
  const open = [from];
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    if (at === to) return true;
    for (const w of Object.values(diagram.wires))
      if (w.from.part === at && !seen.has(w.to.part)) {
        seen.add(w.to.part);
        open.push(w.to.part);
      }
  }
  return false;
}

const cuts = (a: Point, b: Point, box: { left: number; top: number; right: number; bottom: number }) =>
  Math.max(a.x, b.x) > box.left + 1 &&
  Math.min(a.x, b.x) < box.right - 1 &&
  Math.max(a.y, b.y) > box.top + 1 &&
  Math.min(a.y, b.y) < box.bottom - 1;
