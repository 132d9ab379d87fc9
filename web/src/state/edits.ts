import { edit, refreshTraces, select, useBench } from "./store";
import { freeName, newId, pointer, type ModelDocument, type Operation, type Point, type PortReference, type WireNode } from "./document";

/** Edits of the diagram as data. Each is one undo step. */

const present = () => useBench.getState();

export function addPart(type: string, at: Point, connect?: { port: PortReference; isInput: boolean; with: string }): string {
  const { document, catalog, recent } = present();
  const part = catalog.get(type);
  if (!part) return "";
  const id = newId("p");
  const node = { type, name: freeName(document, part.title), x: snap(at.x), y: snap(at.y), parameters: {} };
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

export interface Clip {
  parts: ModelDocument["parts"];
  wires: ModelDocument["wires"];
}

export function copySelected(): Clip {
  const { document, selection } = present();
  const parts = Object.fromEntries(Object.entries(document.parts).filter(([id]) => selection.has(id)));
  const wires = Object.fromEntries(Object.entries(document.wires).filter(([, w]) => w.from.part in parts && w.to.part in parts));
  return { parts, wires };
}

export function paste(clip: Clip, dx: number, dy: number, label = "Paste"): string[] {
  const { document } = present();
  const ids = new Map<string, string>();
  const names = new Set<string>();
  const operations: Operation[] = [];
  for (const [old, part] of Object.entries(clip.parts)) {
    const id = newId("p");
    ids.set(old, id);
    const name = freeName(document, part.name, names);
    names.add(name);
    operations.push({ op: "add", path: pointer("parts", id), value: { ...part, name, x: part.x + dx, y: part.y + dy } });
  }
  for (const wire of Object.values(clip.wires))
    operations.push({
      op: "add",
      path: pointer("wires", newId("w")),
      value: {
        from: { ...wire.from, part: ids.get(wire.from.part) as string },
        to: { ...wire.to, part: ids.get(wire.to.part) as string },
        bends: wire.bends.map((b) => ({ x: b.x + dx, y: b.y + dy })),
      },
    });
  edit(label, operations);
  select(ids.values());
  return [...ids.values()];
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
