import type { Schemas } from "../api/client";
import { edit, here, restructure } from "./model";
import { refreshTraces } from "./runs";
import { offer, select, useBench } from "./bench";
import { fits, snap } from "../canvas/geometry";
import { NEW_MEMBER } from "../canvas/scene";
import { freePlace, type Rectangle } from "../canvas/freePlace";
import {
  definitionOf,
  freeName,
  memberName,
  newId,
  pointer,
  probesOf,
  referenceOf,
  typeOf,
  type Definition,
  type Diagram,
  type ModelDocument,
  type Operation,
  type Point,
  type PortReference,
  type WireNode,
} from "./document";

/** Edits of the diagram as data. Each is one undo step. */

const present = () => useBench.getState();

export function addPart(type: string, at: Point, connect?: { port: PortReference; isInput: boolean; with: string }): string {
  const { diagram, catalog, recent } = present();
  const part = catalog.get(type);
  if (!part) return "";
  const id = newId("p");
  const place = freePlace({ x: snap(at.x), y: snap(at.y), ...sizeOf(part.fresh) }, occupied());
  const node = { type, name: freeName(diagram, part.title), x: place.x, y: place.y, flip: false, turn: 0, parameters: {} };
  const operations: Operation[] = [{ op: "add", path: here("parts", id), value: node }];
  if (connect) {
    const mine = { part: id, port: connect.with };
    const wire: WireNode = connect.isInput ? { from: mine, to: connect.port, bends: [] } : { from: connect.port, to: mine, bends: [] };
    operations.push({ op: "add", path: here("wires", newId("w")), value: wire });
  }
  if (part.traits.isProbe)
    operations.push({
      op: "add",
      path: here("signals", `${id}.${part.ports.find((p) => p.causality === "output")?.name}`),
      value: { probe: 0 },
    });
  useBench.setState({ recent: [type, ...recent.filter((r) => r !== type)].slice(0, 12) });
  edit(`Place ${part.title}`, operations);
  select([id]);
  return id;
}

/** A new part below all others of a level, of a type that the catalog need not know yet. */
export const placeUnder = (diagram: Diagram, type: string, name: string) => ({
  type,
  name: freeName(diagram, name),
  x: snap(Math.min(16, ...Object.values(diagram.parts).map((p) => p.x))),
  y: snap(Math.max(-64, ...Object.values(diagram.parts).map((p) => p.y)) + 128),
  flip: false,
  turn: 0,
  parameters: {},
});

const sizeOf = (view: { width: number | string; height: number | string }) => ({ width: Number(view.width), height: Number(view.height) });

/** Where parts lie. */
function occupied(): Rectangle[] {
  const { diagram, view, catalog } = present();
  return Object.entries(diagram.parts).flatMap(([id, p]) => {
    const part = catalog.get(p.type);
    const shown = view.parts[id] ?? part?.fresh;
    return shown ? [{ x: p.x, y: p.y, ...sizeOf(shown) }] : [];
  });
}

export function moveParts(ids: Iterable<string>, dx: number, dy: number): void {
  const { diagram } = present();
  const moved = new Set(ids);
  const operations: Operation[] = [];
  for (const id of moved) {
    const p = diagram.parts[id];
    if (!p) continue;
    if (dx !== 0) operations.push({ op: "replace", path: here("parts", id, "x"), value: p.x + dx });
    if (dy !== 0) operations.push({ op: "replace", path: here("parts", id, "y"), value: p.y + dy });
  }
  for (const kind of ["notes", "areas"] as const)
    for (const [id, p] of Object.entries(diagram[kind]))
      if (moved.has(id)) operations.push({ op: "add", path: here(kind, id), value: { ...p, x: (p.x ?? 0) + dx, y: (p.y ?? 0) + dy } });
  // A wire between two moved parts moves as a whole.
  for (const [id, w] of Object.entries(diagram.wires))
    if (w.bends.length > 0 && moved.has(w.from.part) && moved.has(w.to.part))
      operations.push({ op: "replace", path: here("wires", id, "bends"), value: w.bends.map((b) => ({ x: b.x + dx, y: b.y + dy })) });
  edit("Move", operations);
}

/** Takes the selected things away, with the wires at them. What was said of a signal that goes on feeding others waits for its next
 * source. A chain that is left open can be closed. */
export function removeSelected(): void {
  const { diagram, selection } = present();
  const operations: Operation[] = [];
  for (const [id, w] of Object.entries(diagram.wires))
    if (selection.has(id) || selection.has(w.from.part) || selection.has(w.to.part))
      operations.push({ op: "remove", path: here("wires", id) });
  for (const kind of ["notes", "areas"] as const)
    for (const id of Object.keys(diagram[kind])) if (selection.has(id)) operations.push({ op: "remove", path: here(kind, id) });
  const gaps = gapsWithout(selection);
  for (const id of selection) {
    if (!(id in diagram.parts)) continue;
    for (const key of Object.keys(diagram.signals)) if (key.startsWith(id + ".")) operations.push(withoutSource(key, selection));
    operations.push({ op: "remove", path: here("parts", id) });
  }
  edit("Delete", operations);
  select([]);
  if (gaps.length > 0)
    offer(gaps.length === 1 ? "The chain is open now." : `${gaps.length} chains are open now.`, "Close the gap", () =>
      edit(
        "Close the gap",
        gaps.flatMap(({ from, to }) => joined(from, to, [])),
      ),
    );
}

/** What becomes of a signal whose source goes: it waits where it still feeds something. */
function withoutSource(key: string, gone: ReadonlySet<string>): Operation {
  const { diagram } = present();
  const feeds = Object.values(diagram.wires)
    .filter((w) => `${w.from.part}.${w.from.port}` === key && !gone.has(w.to.part))
    .map((w) => w.to);
  return feeds.length === 0
    ? { op: "remove", path: here("signals", key) }
    : { op: "add", path: here("signals", key), value: { ...diagram.signals[key], feeds } };
}

/** Wires that would lead past the parts that go: from the one signal that came in to all that the one output fed, or between the two
 * ends of a physical chain. */
function gapsWithout(gone: ReadonlySet<string>): { from: PortReference; to: PortReference }[] {
  const { diagram, view } = present();
  const portOf = (p: PortReference) => view.parts[p.part]?.ports.find((q) => q.name === p.port);
  const gaps: { from: PortReference; to: PortReference }[] = [];
  for (const id of gone) {
    const at = Object.values(diagram.wires).filter((w) => w.from.part === id || w.to.part === id);
    // Only a part by itself leaves a gap that is plain to see.
    if (!(id in diagram.parts) || at.some((w) => gone.has(w.from.part) && gone.has(w.to.part))) continue;
    const ins = at.filter((w) => w.to.part === id && !portOf(w.to)?.domain);
    const outs = at.filter((w) => w.from.part === id && !portOf(w.from)?.domain);
    const ends = at.filter((w) => portOf(w.from)?.domain).map((w) => (w.from.part === id ? w.to : w.from));
    const pairs =
      ins.length === 1 && new Set(outs.map((w) => w.from.port)).size === 1 && ends.length === 0
        ? outs.map((w) => ({ from: (ins[0] as WireNode).from, to: w.to }))
        : ins.length + outs.length === 0 && ends.length === 2
          ? [{ from: ends[0] as PortReference, to: ends[1] as PortReference }]
          : [];
    for (const pair of pairs) {
      const [a, b] = [portOf(pair.from), portOf(pair.to)];
      if (a && b && fits(a, b)) gaps.push(pair);
    }
  }
  return gaps;
}

/** What is copied: parts with their wires, and what else they need or carry in another model. */
export interface Clip extends Pick<Diagram, "parts" | "wires" | "signals" | "parameters" | "areas"> {
  /** Definitions of the model that the parts are instances of, and those that these need, by id. */
  definitions: Record<string, Definition>;
}

/** Definitions that parts need, however deep. */
function needed(model: ModelDocument, types: Iterable<string>): Record<string, Definition> {
  const result: Record<string, Definition> = {};
  const open = [...types];
  for (let type = open.pop(); type !== undefined; type = open.pop()) {
    const id = definitionOf(type);
    const definition = id === null ? undefined : model.definitions[id];
    if (id === null || !definition || id in result) continue;
    result[id] = definition;
    if (definition.kind === "diagram") open.push(...Object.values(definition.parts).map((p) => p.type));
  }
  return result;
}

const words = (text: string) => new Set(text.match(/[A-Za-z_]\w*/g) ?? []);

/** Parameters that some texts speak of, and those that these speak of in turn. */
function mentioned(parameters: Diagram["parameters"], texts: string[]): Diagram["parameters"] {
  const result: Diagram["parameters"] = {};
  const open = [...texts];
  for (let text = open.pop(); text !== undefined; text = open.pop())
    for (const name of words(text)) {
      const found = parameters[name];
      if (!found || name in result) continue;
      result[name] = found;
      open.push(found.value);
    }
  return result;
}

export function copySelected(): Clip {
  const { model, diagram, selection, view } = present();
  const places = Object.entries(diagram.parts).map(([id, p]) => ({ id, x: p.x, y: p.y }));
  const within = (p: Point & { id: string }, a: Diagram["areas"][string]) => {
    const size = view.parts[p.id];
    return p.x >= a.x && p.y >= a.y && p.x + (size?.width ?? 0) <= a.x + a.width && p.y + (size?.height ?? 0) <= a.y + a.height;
  };
  const areas = pick(diagram.areas, (a) => {
    const inside = places.filter((p) => within(p, a));
    return inside.length > 0 && inside.every((p) => selection.has(p.id));
  });
  return { ...clipOf(model, diagram, selection), areas };
}

const pick = <T>(all: Record<string, T>, wanted: (value: T, key: string) => boolean) =>
  Object.fromEntries(Object.entries(all).filter(([key, value]) => wanted(value, key)));

/** Some parts of a level with all that they need elsewhere. */
export function clipOf(model: ModelDocument, diagram: Diagram, ids: ReadonlySet<string>): Clip {
  const parts = pick(diagram.parts, (_, id) => ids.has(id));
  return {
    parts,
    wires: pick(diagram.wires, (w) => w.from.part in parts && w.to.part in parts),
    signals: pick(diagram.signals, (s, key) => !s.feeds && (key.split(".")[0] as string) in parts),
    parameters: mentioned(
      diagram.parameters,
      Object.values(parts).flatMap((p) => Object.values(p.parameters)),
    ),
    definitions: needed(model, new Set(Object.values(parts).map((p) => p.type))),
    areas: {},
  };
}

/** Where copies go: a level of a model. */
export interface PasteTarget {
  model: ModelDocument;
  definition: string;
  diagram: Diagram;
}

/** Operations that add copies, and the ids of the new parts. */
export function pasted(clip: Clip, { model, definition, diagram }: PasteTarget, dx: number, dy: number) {
  const ids = new Map<string, string>();
  const names = new Set<string>();
  const operations: Operation[] = [];
  const add = (value: unknown, ...path: string[]) =>
    operations.push({ op: "add", path: pointer("definitions", definition, ...path), value });
  const definitions = placedDefinitions(clip, model);
  for (const [id, value] of definitions.added) operations.push({ op: "add", path: pointer("definitions", id), value });
  for (const [name, parameter] of Object.entries(clip.parameters)) if (!(name in diagram.parameters)) add(parameter, "parameters", name);
  for (const [old, part] of Object.entries(clip.parts)) {
    const id = newId("p");
    ids.set(old, id);
    const name = freeName(diagram, part.name, names);
    names.add(name);
    add({ ...part, type: definitions.typeNow(part.type), name, x: part.x + dx, y: part.y + dy }, "parts", id);
  }
  const at = (port: PortReference) => ({ ...port, part: ids.get(port.part) as string });
  for (const wire of Object.values(clip.wires))
    add({ from: at(wire.from), to: at(wire.to), bends: wire.bends.map((b) => ({ x: b.x + dx, y: b.y + dy })) }, "wires", newId("w"));
  const signalNames = new Set(Object.values(diagram.signals).map((s) => s.name));
  for (const [key, signal] of Object.entries(clip.signals)) {
    const [part, ...port] = key.split(".");
    // A name means one signal; in the same model the copy goes without.
    const { name, ...rest } = signal;
    const kept = name !== undefined && !signalNames.has(name) ? signal : rest;
    if (Object.keys(kept).length > 0) add(kept, "signals", [ids.get(part as string), ...port].join("."));
  }
  for (const area of Object.values(clip.areas)) add({ ...area, x: area.x + dx, y: area.y + dy }, "areas", newId("a"));
  return { operations, ids: [...ids.values()] };
}

/** The clip's definitions in the model: those that are there already are used again, others are added under a free id. */
export function placedDefinitions(clip: Pick<Clip, "definitions">, model: ModelDocument) {
  const idNow = new Map<string, string>();
  for (const [id, definition] of Object.entries(clip.definitions)) {
    const isThere = model.definitions[id] === definition || JSON.stringify(model.definitions[id]) === JSON.stringify(definition);
    idNow.set(id, isThere || !(id in model.definitions) ? id : newId("d"));
  }
  const typeNow = (type: string) => {
    const id = definitionOf(type);
    const now = id === null ? undefined : idNow.get(id);
    return now === undefined ? type : typeOf(now);
  };
  const retyped = (d: Definition): Definition =>
    d.kind === "diagram"
      ? { ...d, parts: Object.fromEntries(Object.entries(d.parts).map(([id, p]) => [id, { ...p, type: typeNow(p.type) }])) }
      : d;
  const added = [...idNow]
    .filter(([, now]) => !(now in model.definitions))
    .map(([id, now]) => [now, retyped(clip.definitions[id] as Definition)] as const);
  return { added, typeNow };
}

export function paste(clip: Clip, dx: number, dy: number, label = "Paste"): string[] {
  const { operations, ids } = pasted(clip, present(), dx, dy);
  edit(label, operations);
  select(ids);
  return ids;
}

/** Does what the server offers, such as a fix. */
export const act = ({ label, operations }: Pick<Schemas["ActionView"], "label" | "operations">) =>
  edit(label, operations as unknown as Operation[]);

/** Writes a note at a place. */
export function addNote(at: Point): string {
  const id = newId("n");
  edit("Write a note", [{ op: "add", path: here("notes", id), value: { text: "Note", x: snap(at.x), y: snap(at.y) } }]);
  select([id]);
  return id;
}

/** Draws a captioned area around the selected parts. */
export function addArea(): string | null {
  const { diagram, view, selection } = present();
  const frames = [...selection].flatMap((id) => {
    const [node, size] = [diagram.parts[id], view.parts[id]];
    return node && size ? [{ x: node.x ?? 0, y: node.y ?? 0, ...sizeOf(size) }] : [];
  });
  if (frames.length === 0) return null;
  const left = snap(Math.min(...frames.map((f) => f.x)) - 24);
  const top = snap(Math.min(...frames.map((f) => f.y)) - 32);
  const right = snap(Math.max(...frames.map((f) => f.x + f.width)) + 24);
  const bottom = snap(Math.max(...frames.map((f) => f.y + f.height)) + 32);
  const id = newId("a");
  const value = { text: "Area", x: left, y: top, width: right - left, height: bottom - top };
  edit("Draw an area", [{ op: "add", path: here("areas", id), value }]);
  select([id]);
  return id;
}

/** How parts come to stand: edges or middles on one line, or gaps of one size. */
export type Arrangement = "left" | "column" | "top" | "row" | "across" | "down";

/** Moves the selected parts into an arrangement; the first of them in reading order stays. */
export function arrange(how: Arrangement): void {
  const { diagram, view, selection } = present();
  const isHorizontal = how === "left" || how === "column" || how === "across";
  const [axis, extent] = isHorizontal ? (["x", "width"] as const) : (["y", "height"] as const);
  const parts = [...selection]
    .flatMap((id) => {
      const node = diagram.parts[id];
      return node ? [{ id, from: node[axis] ?? 0, size: view.parts[id]?.[extent] ?? 0, other: node[isHorizontal ? "y" : "x"] ?? 0 }] : [];
    })
    .sort((a, b) => a.from - b.from || a.other - b.other);
  const [first, last] = [parts[0], parts[parts.length - 1]];
  if (!first || !last) return;
  const gap = (last.from + last.size - first.from - parts.reduce((sum, p) => sum + p.size, 0)) / Math.max(1, parts.length - 1);
  let next = first.from;
  const operations = parts.flatMap(({ id, from, size }): Operation[] => {
    const to =
      how === "left" || how === "top" ? first.from : how === "column" || how === "row" ? first.from + (first.size - size) / 2 : next;
    next += size + gap;
    const value = how === "across" || how === "down" ? snap(to) : to;
    return value === from ? [] : [{ op: "replace", path: here("parts", id, axis), value }];
  });
  edit(how === "across" || how === "down" ? "Space evenly" : "Align", operations);
}

export function flipSelected(): void {
  const { diagram, selection } = present();
  edit(
    "Mirror",
    [...selection]
      .filter((id) => id in diagram.parts)
      .map((id) => ({ op: "add", path: here("parts", id, "flip"), value: !diagram.parts[id]?.flip })),
  );
}

/** Turns the selected parts by a quarter clockwise, each about its middle. */
export function turnSelected(): void {
  const { diagram, view, selection } = present();
  edit(
    "Turn",
    [...selection].flatMap((id): Operation[] => {
      const node = diagram.parts[id];
      const size = view.parts[id];
      if (!node || !size) return [];
      const shift = snap((size.width - size.height) / 2);
      return [
        { op: "add", path: here("parts", id, "turn"), value: ((node.turn ?? 0) + 1) % 4 },
        ...(shift === 0
          ? []
          : ([
              { op: "replace", path: here("parts", id, "x"), value: node.x + shift },
              { op: "replace", path: here("parts", id, "y"), value: node.y - shift },
            ] as const)),
      ];
    }),
  );
}

/** Joins two ports; a wire that was on a signal's input makes room, while a physical port takes many. */
export function connect(from: PortReference, to: PortReference, bends: Point[] = [], replacing?: string): void {
  if (to.port !== NEW_MEMBER) return edit("Connect", joined(from, to, bends, replacing));
  const { diagram, catalog } = present();
  const node = diagram.parts[to.part];
  const listed = node?.parameters.members ?? catalog.get(node?.type ?? "")?.parameters.find((p) => p.name === "members")?.default ?? "";
  const members = listed.split(",").flatMap((m) => m.trim() || []);
  const source = diagram.signals[`${from.part}.${from.port}`]?.name ?? diagram.parts[from.part]?.name ?? from.port;
  const name = memberName(source, new Set(members));
  edit(`Join ${name}`, [
    { op: "add", path: here("parts", to.part, "parameters", "members"), value: [...members, name].join(", ") },
    ...joined(from, { part: to.part, port: name }, bends, replacing),
  ]);
}

/** Operations that join two ports. A signal that waits for a source there gets its name, its plot and its requirements back. */
function joined(from: PortReference, to: PortReference, bends: Point[], replacing?: string): Operation[] {
  const { diagram, view, model, level } = present();
  const physical = view.parts[to.part]?.ports.find((p) => p.name === to.port)?.domain;
  const operations: Operation[] = [];
  for (const [id, w] of Object.entries(diagram.wires))
    if (id === replacing || same(w, from, to) || (!physical && at(w.to, to))) operations.push({ op: "remove", path: here("wires", id) });
  operations.push({ op: "add", path: here("wires", replacing ?? newId("w")), value: { from, to, bends } });
  const key = `${from.part}.${from.port}`;
  for (const [old, signal] of Object.entries(diagram.signals)) {
    if (!signal.feeds?.some((f) => at(f, to))) continue;
    operations.push({ op: "remove", path: here("signals", old) });
    const said = { ...signal, ...diagram.signals[key] };
    delete said.feeds;
    operations.push({ op: "add", path: here("signals", key), value: said });
    const [before, now] = [referenceOf(level, old), referenceOf(level, key)];
    for (const [id, requirement] of Object.entries(model.requirements))
      for (const what of ["signal", "reference"] as const)
        if (requirement[what] === before) operations.push({ op: "replace", path: pointer("requirements", id, what), value: now });
    break;
  }
  return operations;
}

const at = (a: PortReference, b: PortReference) => a.part === b.part && a.port === b.port;

/** Whether a wire joins the same two ports already, either way round. */
const same = (w: WireNode, a: PortReference, b: PortReference) => (at(w.from, a) && at(w.to, b)) || (at(w.from, b) && at(w.to, a));

/** Puts a part into a wire. */
export function insertOnWire(wireId: string, part: string, input: string, output: string): void {
  const w = present().diagram.wires[wireId];
  if (!w) return;
  edit("Insert", [
    { op: "remove", path: here("wires", wireId) },
    { op: "add", path: here("wires", newId("w")), value: { from: w.from, to: { part, port: input }, bends: [] } },
    { op: "add", path: here("wires", newId("w")), value: { from: { part, port: output }, to: w.to, bends: [] } },
  ]);
}

export function setParameter(part: string, name: string, text: string | null): void {
  const path = here("parts", part, "parameters", name);
  const had = name in (present().diagram.parts[part]?.parameters ?? {});
  if (text === null) edit(`Reset ${name}`, had ? [{ op: "remove", path }] : []);
  else edit(`Set ${name}`, [{ op: "add", path, value: text }]);
}

export const rename = (part: string, to: string) => void restructure({ kind: "renamePart", part, to });

/** Changes what is known of a signal; undefined values are dropped. */
export function setSignal(key: string, change: Record<string, unknown>): void {
  const old = present().diagram.signals[key] ?? {};
  const value = Object.fromEntries(Object.entries({ ...old, ...change }).filter(([, v]) => v !== undefined && v !== ""));
  edit("Change signal", [{ op: "add", path: here("signals", key), value }]);
}

/** Plots a signal of the level or stops plotting it. A new one goes to the strip of its unit, or to a new strip. */
export function toggleProbe(key: string): void {
  const { diagram, view, model, level } = present();
  if (diagram.signals[key]?.probe !== undefined) return stopPlotting(referenceOf(level, key));
  const unit = view.signals[key]?.unit ?? "";
  const probes = probesOf(model);
  const same = probes.find((p) => (view.plotted[p.reference]?.unit ?? "") === unit);
  const probe = same ? same.strip : probes.length === 0 ? 0 : Math.max(...probes.map((p) => p.strip)) + 1;
  edit("Plot signal", [
    key in diagram.signals
      ? { op: "add", path: here("signals", key, "probe"), value: probe }
      : { op: "add", path: here("signals", key), value: { probe } },
  ]);
  void refreshTraces();
}

/** Stops plotting a signal of any level. */
export function stopPlotting(reference: string): void {
  const probe = probesOf(present().model).find((p) => p.reference === reference);
  if (!probe) return;
  edit("Stop plotting", [{ op: "remove", path: pointer("definitions", probe.definition, "signals", probe.key, "probe") }]);
  void refreshTraces();
}
