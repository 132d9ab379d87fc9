import { select, useBench } from "./bench";
import {
  freeName,
  newId,
  pointer,
  typeOf,
  type Operation,
  type Point,
  type Valve,
  type ValvePath,
  type ValvePort,
  type ValvePosition,
} from "./document";
import { edit, here, restructure } from "./model";
import { members } from "./plotSheets";
import { inOrder, last } from "./tables";
import { freePlace } from "../canvas/freePlace";
import { snap } from "../canvas/geometry";

/** Edits of directional valves as data. Each is one undo step. */

const valve = () => useBench.getState().valve as Valve;

/** The position that a path belongs to. */
export const positionOf = (of: Valve, path: string): string | null =>
  Object.entries(of.positions).find(([, p]) => path in p.paths)?.[0] ?? null;

export const placeValve = (at: Point) => restructure({ kind: "makeValve", x: snap(at.x), y: snap(at.y), name: null });

/** Places a valve that was fitted to another one, below it or near there. */
export function placeTwin(of: string, twin: Valve): void {
  const { diagram, view } = useBench.getState();
  const from = diagram.parts[of];
  if (!from) return;
  const name = freeName(diagram, twin.name);
  const [definition, part] = [newId("d"), newId("p")];
  const below = { x: from.x, y: snap(from.y + (view.parts[of]?.height ?? 0) + ROOM), ...TWIN };
  const taken = Object.entries(diagram.parts).map(([id, p]) => ({
    x: p.x,
    y: p.y,
    width: view.parts[id]?.width ?? 0,
    height: view.parts[id]?.height ?? 0,
  }));
  const at = freePlace(below, taken);
  edit(`Fit a crude twin to ${from.name}`, [
    { op: "add", path: pointer("definitions", definition), value: { ...twin, name } },
    { op: "add", path: here("parts", part), value: { type: typeOf(definition), name, parameters: {}, ...at, flip: false, turn: 0 } },
  ]);
}

/** Between a valve and its twin, and room for the symbol of three positions. */
const ROOM = 56;
const TWIN = { width: 180, height: 96 };

export const setValve = (label: string, values: Partial<Valve>) => edit(label, members(here(), values));

export const setPort = (id: string, label: string, values: Partial<ValvePort>) => edit(label, members(here("ports", id), values));

export const setPosition = (id: string, label: string, values: Partial<ValvePosition>) =>
  edit(label, members(here("positions", id), values));

export function setPath(id: string, label: string, values: Partial<ValvePath>): void {
  const position = positionOf(valve(), id);
  if (position) edit(label, members(here("positions", position, "paths", id), values));
}

const PORTS = ["P", "T", "A", "B", "C", "D"];

export function addPort(): void {
  const { ports } = valve();
  const taken = new Set(Object.values(ports).map((p) => p.name));
  const name = PORTS.find((n) => !taken.has(n)) ?? "E";
  const id = newId("p");
  edit("Add a port", [{ op: "add", path: here("ports", id), value: { name, side: "top", order: last(ports) } }]);
  select([id]);
}

export function addPosition(): void {
  const { positions } = valve();
  const taken = new Set(Object.values(positions).map((p) => p.name));
  let name = "position";
  for (let n = 2; taken.has(name); n++) name = `position ${n}`;
  const id = newId("s");
  edit("Add a position", [{ op: "add", path: here("positions", id), value: { name, order: last(positions), paths: {} } }]);
  select([id]);
}

/** What a path begins with where no other says. */
const BEGUN = { flow: "40 l/min", drop: "35 bar", overlap: "0.06", cracking: "0.4 bar", diameter: "2.5 mm" };

/** Joins two ports in a position; where a path joins them already, it is turned to run from the first to the second. */
export function joinPorts(position: string, from: string, to: string, kind: ValvePath["kind"]): void {
  const paths = valve().positions[position]?.paths ?? {};
  const there = Object.entries(paths).find(([, p]) => (p.from === from && p.to === to) || (p.from === to && p.to === from));
  if (there) {
    edit("Turn a path", members(here("positions", position, "paths", there[0]), { from, to, kind }));
    select([there[0]]);
    return;
  }
  const like = Object.values(valve().positions).flatMap((p) => Object.values(p.paths))[0];
  const id = newId("w");
  const value = { from, to, kind, order: last(paths), ...BEGUN, ...(like && { flow: like.flow, drop: like.drop, overlap: like.overlap }) };
  edit("Join two ports", [{ op: "add", path: here("positions", position, "paths", id), value }]);
  select([id]);
}

/** Takes a path, a position or a port away, with the paths that lead to it. */
export function removeOfValve(id: string): void {
  const of = valve();
  const position = positionOf(of, id);
  if (position) edit("Delete a path", [{ op: "remove", path: here("positions", position, "paths", id) }]);
  else if (id in of.positions && Object.keys(of.positions).length > 1) {
    const operations: Operation[] = [{ op: "remove", path: here("positions", id) }];
    if (of.neutral === id) {
      const other = inOrder(of.positions).find(([p]) => p !== id)?.[0];
      operations.push({ op: "replace", path: here("neutral"), value: other });
    }
    edit("Delete a position", operations);
  } else if (id in of.ports && Object.keys(of.ports).length > 2)
    edit("Delete a port", [
      ...Object.entries(of.positions).flatMap(([p, node]) =>
        Object.entries(node.paths)
          .filter(([, path]) => path.from === id || path.to === id)
          .map(([path]): Operation => ({ op: "remove", path: here("positions", p, "paths", path) })),
      ),
      { op: "remove", path: here("ports", id) },
    ]);
  else return;
  select([]);
}

/** Changes the places of a position and its neighbour. */
export function movePosition(id: string, by: -1 | 1): void {
  const places = inOrder(valve().positions).map(([i]) => i);
  const at = places.indexOf(id);
  const other = places[at + by];
  if (at < 0 || other === undefined) return;
  [places[at], places[at + by]] = [other, id];
  edit(
    "Change the order of positions",
    places.map((i, order) => ({ op: "replace", path: here("positions", i, "order"), value: order })),
  );
}

/** Exchanges the ports above, the first for the last and so on: what went straight is crossed, and back. */
export function mirrorPosition(id: string): void {
  const of = valve();
  const above = inOrder(of.ports)
    .filter(([, p]) => p.side === "top")
    .map(([port]) => port);
  const image = (port: string) => (above.includes(port) ? (above[above.length - 1 - above.indexOf(port)] ?? port) : port);
  const operations = Object.entries(of.positions[id]?.paths ?? {}).flatMap(([path, node]): Operation[] =>
    (["from", "to"] as const).map((end) => ({
      op: "replace",
      path: here("positions", id, "paths", path, end),
      value: image(node[end]),
    })),
  );
  if (operations.length > 0) edit("Mirror a position", operations);
}
