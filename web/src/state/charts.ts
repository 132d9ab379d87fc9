import { api, ask, type Schemas } from "../api/client";
import { boxOf, HEAD, MARGIN, outerFirst, within } from "../canvas/chart/geometry";
import { withInner } from "../canvas/chart/tools";
import { snap } from "../canvas/geometry";
import { notify, notifyError, select, useBench } from "./bench";
import {
  freeName as freePart,
  newId,
  pointer,
  typeOf,
  type Chart,
  type ChartState,
  type ChartTransition,
  type Operation,
  type Point,
} from "./document";
import { edit, here, restructure } from "./model";
import { addTile, members } from "./plotSheets";

/** Edits of a chart as data. Each is one undo step. */

const present = (): Chart => useBench.getState().chart as Chart;

/** Gives something on the chart other members; those without a value go. */
export const setState = (id: string, label: string, values: Partial<ChartState>) => edit(label, members(here("states", id), values));
export const setTransition = (id: string, label: string, values: Partial<ChartTransition>) =>
  edit(label, members(here("transitions", id), values));

export const SHAPES: Record<Schemas["ChartStateKind"], { label: string; name: string }> = {
  state: { label: "State", name: "State" },
  parallel: { label: "State of regions", name: "Regions" },
  junction: { label: "Junction", name: "Junction" },
  final: { label: "Final state", name: "Done" },
  history: { label: "Memory of the last state", name: "Memory" },
  deepHistory: { label: "Memory of all that was active", name: "Memory" },
};

function freeName(chart: Chart, wanted: string, parent: string | null): string {
  const taken = new Set(
    Object.values(chart.states)
      .filter((s) => (s.parent ?? null) === parent)
      .map((s) => s.name),
  );
  if (!taken.has(wanted)) return wanted;
  for (let n = 2; ; n++) if (!taken.has(`${wanted} ${n}`)) return `${wanted} ${n}`;
}

const lastOrder = (chart: Chart) => Math.max(0, ...Object.values(chart.states).map((s) => s.order)) + 1;

/** A state of a kind with its middle at a point, in the state that lies there. */
function fresh(chart: Chart, kind: ChartState["kind"], at: Point, parent: string | null, name?: string): ChartState {
  const [width, height] = kind === "parallel" ? [320, 200] : [128, 64];
  const small = kind !== "state" && kind !== "parallel";
  return {
    name: name ?? freeName(chart, SHAPES[kind].name, parent),
    kind,
    ...(parent === null ? {} : { parent }),
    order: lastOrder(chart),
    x: snap(at.x - (small ? 11 : width / 2)),
    y: snap(at.y - (small ? 11 : height / 2)),
    width,
    height,
  };
}

export function addState(kind: ChartState["kind"], at: Point, parent: string | null, name?: string): string {
  const chart = present();
  const id = newId("s");
  const value = fresh(chart, kind, at, parent, name);
  edit(`Place a ${SHAPES[kind].label.toLowerCase()}`, [
    { op: "add", path: here("states", id), value },
    ...grown({ ...chart, states: { ...chart.states, [id]: value } }),
  ]);
  select([id]);
  return id;
}

/** Draws a transition; where it leads to nothing, with a new state there. */
export function addTransition(from: string, to: string | null, at: Point, parent: string | null): string {
  const chart = present();
  const id = newId("t");
  const target = to ?? newId("s");
  const operations: Operation[] = [];
  if (to === null) {
    const value = fresh(chart, "state", at, parent);
    operations.push({ op: "add", path: here("states", target), value });
    operations.push(...grown({ ...chart, states: { ...chart.states, [target]: value } }));
  }
  const priority =
    Math.max(
      0,
      ...Object.values(chart.transitions)
        .filter((t) => t.from === from)
        .map((t) => t.priority),
    ) + 1;
  operations.push({ op: "add", path: here("transitions", id), value: { from, to: target, isLocal: false, priority, bends: [] } });
  edit("Draw a transition", operations);
  select([id]);
  return id;
}

/** Something that a state does again and again, or on an event, without being left. */
export function addInner(from: string): string {
  const id = newId("t");
  const priority =
    Math.max(
      0,
      ...Object.values(present().transitions)
        .filter((t) => t.from === from)
        .map((t) => t.priority),
    ) + 1;
  edit("Add a transition that stays", [
    { op: "add", path: here("transitions", id), value: { from, every: "1 s", isLocal: false, priority, bends: [] } },
  ]);
  select([id]);
  return id;
}

/** States that grow so that what stands in them has room. */
function grown(chart: Chart): Operation[] {
  const operations: Operation[] = [];
  const states = { ...chart.states };
  for (const id of outerFirst(chart).reverse()) {
    const inner = states[id] as ChartState;
    const outer = inner.parent ? states[inner.parent] : undefined;
    if (!outer || !inner.parent) continue;
    const b = boxOf(inner);
    const width = Math.max(outer.width, snap(b.x + b.width + MARGIN - outer.x));
    const height = Math.max(outer.height, snap(b.y + b.height + MARGIN - outer.y));
    const x = Math.min(outer.x, snap(b.x - MARGIN));
    const y = Math.min(outer.y, snap(b.y - HEAD));
    const next = { ...outer, x, y, width: width + outer.x - x, height: height + outer.y - y };
    for (const key of ["x", "y", "width", "height"] as const)
      if (next[key] !== outer[key]) operations.push({ op: "replace", path: here("states", inner.parent, key), value: next[key] });
    states[inner.parent] = next;
  }
  return operations;
}

/** Moves states with all in them, into the state that they were let go over. */
export function moveStates(ids: readonly string[], dx: number, dy: number, parent: string | null): void {
  const chart = present();
  const all = withInner(chart, ids);
  // What moves with the state around it keeps it.
  const own = ids.filter((id) => ![...all].some((o) => o !== id && within(chart, o).includes(id)));
  const operations: Operation[] = [];
  const states = { ...chart.states };
  for (const id of all) {
    const s = states[id] as ChartState;
    states[id] = { ...s, x: s.x + dx, y: s.y + dy };
    if (dx !== 0) operations.push({ op: "replace", path: here("states", id, "x"), value: s.x + dx });
    if (dy !== 0) operations.push({ op: "replace", path: here("states", id, "y"), value: s.y + dy });
  }
  for (const id of own) {
    const s = states[id] as ChartState;
    if ((s.parent ?? null) === parent) continue;
    const name = freeName(chart, s.name, parent);
    states[id] = { ...s, ...(parent === null ? {} : { parent }) };
    if (parent === null) delete (states[id] as Partial<ChartState>).parent;
    operations.push(
      parent === null
        ? { op: "remove", path: here("states", id, "parent") }
        : { op: "add", path: here("states", id, "parent"), value: parent },
    );
    if (name !== s.name) operations.push({ op: "replace", path: here("states", id, "name"), value: name });
  }
  for (const [id, t] of Object.entries(chart.transitions))
    if (t.bends.length > 0 && all.has(t.from) && (!t.to || all.has(t.to)))
      operations.push({ op: "replace", path: here("transitions", id, "bends"), value: t.bends.map((b) => ({ x: b.x + dx, y: b.y + dy })) });
  edit("Move", [...operations, ...grown({ ...chart, states })]);
}

export function removeChosen(): void {
  const chart = present();
  const { selection } = useBench.getState();
  const gone = withInner(
    chart,
    [...selection].filter((id) => id in chart.states),
  );
  const operations: Operation[] = [];
  for (const [id, t] of Object.entries(chart.transitions))
    if (selection.has(id) || gone.has(t.from) || (t.to && gone.has(t.to))) operations.push({ op: "remove", path: here("transitions", id) });
  for (const [id, s] of Object.entries(chart.states))
    if (!gone.has(id) && s.initial && gone.has(s.initial)) operations.push({ op: "remove", path: here("states", id, "initial") });
  for (const id of gone) operations.push({ op: "remove", path: here("states", id) });
  for (const id of selection) if (id in chart.names) operations.push({ op: "remove", path: here("names", id) });
  edit("Delete", operations);
  select([]);
}

/** Makes a state the one that is entered first in the state around it, or on the chart. */
export function makeFirst(id: string): void {
  const chart = present();
  const parent = chart.states[id]?.parent;
  if (parent) return edit("Enter it first", [{ op: "add", path: here("states", parent, "initial"), value: id }]);
  const orders = Object.values(chart.states).map((s) => s.order);
  edit("Enter it first", [{ op: "replace", path: here("states", id, "order"), value: Math.min(0, ...orders) - 1 }]);
}

/** Puts a transition before or behind the next one of its state. */
export function reorder(id: string, by: -1 | 1): void {
  const chart = present();
  const from = chart.transitions[id]?.from;
  const own = Object.entries(chart.transitions)
    .filter(([, t]) => t.from === from)
    .sort((a, b) => a[1].priority - b[1].priority)
    .map(([i]) => i);
  const at = own.indexOf(id);
  const other = own[at + by];
  if (other === undefined) return;
  [own[at], own[at + by]] = [other, id];
  edit(
    "Change the order",
    own.map((i, place) => ({ op: "replace", path: here("transitions", i, "priority"), value: place + 1 })),
  );
}

/** Puts a state around the chosen ones. */
export function group(): string | null {
  const chart = present();
  const ids = [...useBench.getState().selection].filter((id) => id in chart.states);
  const first = chart.states[ids[0] as string];
  if (!first || ids.some((id) => chart.states[id]?.parent !== first.parent)) return null;
  const boxes = ids.map((id) => boxOf(chart.states[id] as ChartState));
  const [x, y] = [Math.min(...boxes.map((b) => b.x)) - MARGIN, Math.min(...boxes.map((b) => b.y)) - HEAD];
  const id = newId("s");
  const parent = first.parent ?? null;
  const value: ChartState = {
    name: freeName(chart, "State", parent),
    kind: "state",
    ...(parent ? { parent } : {}),
    order: first.order - 0.5,
    x: snap(x),
    y: snap(y),
    width: snap(Math.max(...boxes.map((b) => b.x + b.width)) + MARGIN - x),
    height: snap(Math.max(...boxes.map((b) => b.y + b.height)) + MARGIN - y),
  };
  const states = { ...chart.states, [id]: value };
  for (const i of ids) states[i] = { ...(states[i] as ChartState), parent: id };
  edit("Group into a state", [
    { op: "add", path: here("states", id), value },
    ...ids.map((i): Operation => ({ op: "add", path: here("states", i, "parent"), value: id })),
    ...grown({ ...chart, states }),
  ]);
  select([id]);
  return id;
}

/** Whether a state has others in it, and so could be a chart of its own. */
export const isMovable = (chart: Chart, id: string): boolean => Object.values(chart.states).some((s) => s.parent === id);

/** Makes a chart of its own of a state with all in it, a part beside that of the chart. */
export async function moveToPart(id: string): Promise<void> {
  const name = present().states[id]?.name;
  if (await restructure({ kind: "moveState", state: id })) notify(`${name} is a part of its own now, beside the chart.`);
}

/** Places a part that is a new chart, and opens it. */
export const placeChart = (at: Point) => restructure({ kind: "makeChart", x: snap(at.x), y: snap(at.y), name: null });

/** Places a part whose chart is read from a file of state chart XML. */
export async function readChart(): Promise<void> {
  const [file] = await chooseFile(".scxml,.xml,text/xml");
  if (!file) return;
  try {
    const chart = await ask(api.POST("/api/charts", { body: { text: await file.text() } }));
    const { diagram, model } = useBench.getState();
    const [definition, part] = [newId("d"), newId("p")];
    const taken = new Set(Object.values(model.definitions).map((d) => d.name));
    let name = chart.name;
    for (let n = 2; taken.has(name); n++) name = `${chart.name} ${n}`;
    edit("Read a state chart", [
      { op: "add", path: pointer("definitions", definition), value: { ...chart, name } },
      {
        op: "add",
        path: here("parts", part),
        value: { type: typeOf(definition), name: freePart(diagram, name), x: 96, y: 96, flip: false, turn: 0, parameters: {} },
      },
    ]);
    select([part]);
  } catch (e) {
    notifyError((e as Error).message);
  }
}

/** Asks for files; none where nobody chooses one. */
const chooseFile = (accept: string) =>
  new Promise<File[]>((resolve) => {
    const input = window.document.createElement("input");
    input.type = "file";
    input.accept = accept;
    input.onchange = () => resolve([...(input.files ?? [])]);
    input.oncancel = () => resolve([]);
    input.click();
  });

/** Shows in plots what was active when: a tile of bands of the states that have none in them, on the sheet at hand. */
export function plotModes(): void {
  const { chart, view, level } = useBench.getState();
  if (!chart || !view.chart) return;
  const atomic = Object.keys(view.chart.states).filter((id) => !Object.values(chart.states).some((s) => s.parent === id));
  const signals = atomic.map((id) => `${level}.${view.chart?.states[id]}`);
  addTile("bands", signals, { title: `Modes of ${chart.name}`, height: Math.max(3, Math.ceil(signals.length / 2) + 1) });
}
