import { edit, refreshTraces, select, useBench } from "./store";
import { defaultView } from "../diagram/geometry";
import { freePlace, type Rectangle } from "../diagram/freePlace";
import { freeName, newId, pointer, type ModelDocument, type Operation, type Point, type PortReference, type WireNode } from "./document";

/** Edits of the diagram as data. Each is one undo step. */

const present = () => useBench.getState();

export function addPart(type: string, at: Point, connect?: { port: PortReference; isInput: boolean; with: string }): string {
  const { document, catalog, recent } = present();
  const part = catalog.get(type);
  if (!part) return "";
  const id = newId("p");
  const place = freePlace({ x: snap(at.x), y: snap(at.y), ...sizeOf(defaultView(part)) }, occupied());
  const node = { type, name: freeName(document, part.title), x: place.x, y: place.y, parameters: {} };
  const operations: Operation[] = [{ op: "add", path: pointer("parts", id), value: node }];
  if (connect) {
    const mine = { part: id, port: connect.with };
    const wire: WireNode = connect.isInput ? { from: mine, to: connect.port, bends: [] } : { from: connect.port, to: mine, bends: [] };
    operations.push({ op: "add", path: pointer("wires", newId("w")), value: wire });
  }
  if (type === "Probe") operations.push({ op: "add", path: pointer("signals", `${id}.y`), value: { probe: 0 } });
  useBench.setState({ recent: [type, ...recent.filter((r) => r !== type)].slice(0, 12) });
  edit(`Place ${part.title}`, operations);
  select([id]);
  return id;
}

const sizeOf = (view: { width: number | string; height: number | string }) => ({ width: Number(view.width), height: Number(view.height) });

/** Where parts lie. */
function occupied(): Rectangle[] {
  const { document, view, catalog } = present();
  return Object.entries(document.parts).flatMap(([id, p]) => {
    const part = catalog.get(p.type);
    const shown = view.parts[id] ?? (part && defaultView(part));
    return shown ? [{ x: p.x, y: p.y, ...sizeOf(shown) }] : [];
  });
}

export const snap = (v: number) => Math.round(v / 8) * 8;

export function moveParts(ids: Iterable<string>, dx: number, dy: number): void {
  const { document } = present();
  const moved = new Set(ids);
  const operations: Operation[] = [];
  for (const id of moved) {
    const p = document.parts[id];
    if (!p) continue;
    if (dx !== 0) operations.push({ op: "replace", path: pointer("parts", id, "x"), value: p.x + dx });
    if (dy !== 0) operations.push({ op: "replace", path: pointer("parts", id, "y"), value: p.y + dy });
  }
  // A wire between two moved parts moves as a whole.
  for (const [id, w] of Object.entries(document.wires))
    if (w.bends.length > 0 && moved.has(w.from.part) && moved.has(w.to.part))
      operations.push({ op: "replace", path: pointer("wires", id, "bends"), value: w.bends.map((b) => ({ x: b.x + dx, y: b.y + dy })) });
  edit("Move", operations);
}

/** Operations that take parts away, with all that hangs on them. Names and probes stay with their signals. */
export function removeSelected(): void {
  const { document, selection } = present();
  const operations: Operation[] = [];
  for (const [id, w] of Object.entries(document.wires))
    if (selection.has(id) || selection.has(w.from.part) || selection.has(w.to.part))
      operations.push({ op: "remove", path: pointer("wires", id) });
  for (const id of selection) {
    if (!(id in document.parts)) continue;
    for (const key of Object.keys(document.signals))
      if (key.startsWith(id + ".")) operations.push({ op: "remove", path: pointer("signals", key) });
    operations.push({ op: "remove", path: pointer("parts", id) });
  }
  edit("Delete", operations);
  select([]);
}

/** What is copied: parts with their wires, and what else they need or carry in another model. */
export interface Clip {
  parts: ModelDocument["parts"];
  wires: ModelDocument["wires"];
  signals: ModelDocument["signals"];
  /** Parameters of the model that the parts' values speak of. */
  parameters: ModelDocument["parameters"];
  /** Texts of own parts among them. */
  classes: ModelDocument["classes"];
  /** Captions around nothing but copied parts. */
  areas: ModelDocument["areas"];
}

const words = (text: string) => new Set(text.match(/[A-Za-z_]\w*/g) ?? []);

/** Parameters that some texts speak of, and those that these speak of in turn. */
function mentioned(parameters: ModelDocument["parameters"], texts: string[]): ModelDocument["parameters"] {
  const result: ModelDocument["parameters"] = {};
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
  const { document, selection, view } = present();
  const pick = <T>(all: Record<string, T>, wanted: (value: T, key: string) => boolean) =>
    Object.fromEntries(Object.entries(all).filter(([key, value]) => wanted(value, key)));
  const parts = pick(document.parts, (_, id) => selection.has(id));
  const types = new Set(Object.values(parts).map((p) => p.type));
  const within = (p: Point & { id: string }, a: ModelDocument["areas"][string]) => {
    const size = view.parts[p.id];
    return p.x >= a.x && p.y >= a.y && p.x + Number(size?.width ?? 0) <= a.x + a.width && p.y + Number(size?.height ?? 0) <= a.y + a.height;
  };
  const places = Object.entries(document.parts).map(([id, p]) => ({ id, x: p.x, y: p.y }));
  return {
    parts,
    wires: pick(document.wires, (w) => w.from.part in parts && w.to.part in parts),
    signals: pick(document.signals, (_, key) => (key.split(".")[0] as string) in parts),
    parameters: mentioned(
      document.parameters,
      Object.values(parts).flatMap((p) => Object.values(p.parameters)),
    ),
    classes: pick(document.classes, (_, name) => types.has(name)),
    areas: pick(document.areas, (a) => {
      const inside = places.filter((p) => within(p, a));
      return inside.length > 0 && inside.every((p) => p.id in parts);
    }),
  };
}

/** Operations that add copies, and the ids of the new parts. */
export function pasted(clip: Clip, document: ModelDocument, known: (type: string) => boolean, dx: number, dy: number) {
  const ids = new Map<string, string>();
  const names = new Set<string>();
  const operations: Operation[] = [];
  const add = (value: unknown, ...path: string[]) => operations.push({ op: "add", path: pointer(...path), value });
  for (const [name, text] of Object.entries(clip.classes)) if (!known(name)) add(text, "classes", name);
  for (const [name, parameter] of Object.entries(clip.parameters)) if (!(name in document.parameters)) add(parameter, "parameters", name);
  for (const [old, part] of Object.entries(clip.parts)) {
    const id = newId("p");
    ids.set(old, id);
    const name = freeName(document, part.name, names);
    names.add(name);
    add({ ...part, name, x: part.x + dx, y: part.y + dy }, "parts", id);
  }
  const at = (port: PortReference) => ({ ...port, part: ids.get(port.part) as string });
  for (const wire of Object.values(clip.wires))
    add({ from: at(wire.from), to: at(wire.to), bends: wire.bends.map((b) => ({ x: b.x + dx, y: b.y + dy })) }, "wires", newId("w"));
  const signalNames = new Set(Object.values(document.signals).map((s) => s.name));
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

export function paste(clip: Clip, dx: number, dy: number, label = "Paste"): string[] {
  const { document, catalog } = present();
  const { operations, ids } = pasted(clip, document, (type) => catalog.has(type) || type in document.classes, dx, dy);
  edit(label, operations);
  select(ids);
  return ids;
}

export function flipSelected(): void {
  const { document, selection } = present();
  edit(
    "Flip",
    [...selection]
      .filter((id) => id in document.parts)
      .map((id) => ({ op: "add", path: pointer("parts", id, "flip"), value: !document.parts[id]?.flip })),
  );
}

/** Joins two ports; a wire that was on a signal's input makes room, while a physical port takes many. */
export function connect(from: PortReference, to: PortReference, bends: Point[] = [], replacing?: string): void {
  const { document, view } = present();
  const physical = view.parts[to.part]?.ports.find((p) => p.name === to.port)?.domain;
  const operations: Operation[] = [];
  for (const [id, w] of Object.entries(document.wires))
    if (id === replacing || same(w, from, to) || (!physical && at(w.to, to))) operations.push({ op: "remove", path: pointer("wires", id) });
  operations.push({ op: "add", path: pointer("wires", replacing ?? newId("w")), value: { from, to, bends } });
  edit("Connect", operations);
}

const at = (a: PortReference, b: PortReference) => a.part === b.part && a.port === b.port;

/** Whether a wire joins the same two ports already, either way round. */
const same = (w: WireNode, a: PortReference, b: PortReference) => (at(w.from, a) && at(w.to, b)) || (at(w.from, b) && at(w.to, a));

/** Puts a part into a wire. */
export function insertOnWire(wireId: string, part: string, input: string, output: string): void {
  const w = present().document.wires[wireId];
  if (!w) return;
  edit("Insert", [
    { op: "remove", path: pointer("wires", wireId) },
    { op: "add", path: pointer("wires", newId("w")), value: { from: w.from, to: { part, port: input }, bends: [] } },
    { op: "add", path: pointer("wires", newId("w")), value: { from: { part, port: output }, to: w.to, bends: [] } },
  ]);
}

export function setParameter(part: string, name: string, text: string | null): void {
  const path = pointer("parts", part, "parameters", name);
  const had = name in (present().document.parts[part]?.parameters ?? {});
  if (text === null) edit(`Reset ${name}`, had ? [{ op: "remove", path }] : []);
  else edit(`Set ${name}`, [{ op: "add", path, value: text }]);
}

export function rename(part: string, name: string): void {
  edit("Rename", [{ op: "replace", path: pointer("parts", part, "name"), value: name }]);
}

/** Changes what is known of a signal; undefined values are dropped. */
export function setSignal(key: string, change: Record<string, unknown>): void {
  const old = present().document.signals[key] ?? {};
  const value = Object.fromEntries(Object.entries({ ...old, ...change }).filter(([, v]) => v !== undefined && v !== ""));
  edit("Change signal", [{ op: "add", path: pointer("signals", key), value }]);
}

/** Plots a signal or stops plotting it. A new one goes to the strip of its unit, or to a new strip. */
export function toggleProbe(key: string): void {
  const { document, view } = present();
  if (document.signals[key]?.probe !== undefined) edit("Stop plotting", [{ op: "remove", path: pointer("signals", key, "probe") }]);
  else {
    const unit = view.signals[key]?.unit ?? "";
    const probed = Object.entries(document.signals).filter(([, s]) => s.probe !== undefined);
    const same = probed.find(([k]) => (view.signals[k]?.unit ?? "") === unit);
    const probe = same ? same[1].probe : probed.length === 0 ? 0 : Math.max(...probed.map(([, s]) => s.probe as number)) + 1;
    edit("Plot signal", [
      key in document.signals
        ? { op: "add", path: pointer("signals", key, "probe"), value: probe }
        : { op: "add", path: pointer("signals", key), value: { probe } },
    ]);
  }
  void refreshTraces();
}
