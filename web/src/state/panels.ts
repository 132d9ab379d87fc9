import { api, ask, type Schemas } from "../api/client";
import { notifyError, useBench, type BenchState } from "./bench";
import { newId, pointer, type ModelDocument, type Operation } from "./document";
import { edit } from "./model";
import { members } from "./plotSheets";

/** Panels as data, and what is set by them in a run. */

export type Panel = Schemas["PanelNode"];
export type PanelItem = Schemas["PanelItemNode"];
export type PanelItemKind = Schemas["PanelItemKind"];
export type PanelItemView = Schemas["PanelItemView"];
export type Alert = Schemas["AlertNode"];
export type Fault = Schemas["FaultNode"];

const get = useBench.getState;
const set = useBench.setState;

export const COLUMNS = 12;

/** Kinds with the size that a new one has. */
export const ITEMS: Record<PanelItemKind, { label: string; isControl: boolean; width: number; height: number }> = {
  switch: { label: "Switch", isControl: true, width: 3, height: 1 },
  button: { label: "Button that stays", isControl: true, width: 3, height: 1 },
  pushButton: { label: "Push button", isControl: true, width: 3, height: 1 },
  list: { label: "List of choices", isControl: true, width: 3, height: 1 },
  choice: { label: "Choices in view", isControl: true, width: 3, height: 4 },
  slider: { label: "Slider", isControl: true, width: 4, height: 1 },
  knob: { label: "Knob", isControl: true, width: 2, height: 3 },
  numberField: { label: "Number field", isControl: true, width: 3, height: 1 },
  stick: { label: "Stick", isControl: true, width: 3, height: 4 },
  dial: { label: "Dial", isControl: false, width: 3, height: 4 },
  bar: { label: "Bar", isControl: false, width: 3, height: 1 },
  number: { label: "Number", isControl: false, width: 3, height: 1 },
  lamp: { label: "Lamp", isControl: false, width: 3, height: 1 },
  text: { label: "Word of a mode", isControl: false, width: 3, height: 1 },
  trend: { label: "Trend", isControl: false, width: 5, height: 3 },
  alerts: { label: "List of alerts", isControl: false, width: 4, height: 4 },
  compass: { label: "Compass", isControl: false, width: 3, height: 4 },
  horizon: { label: "Artificial horizon", isControl: false, width: 3, height: 4 },
  level: { label: "Level", isControl: false, width: 2, height: 4 },
  faults: { label: "Faults", isControl: false, width: 4, height: 4 },
};

export const panelsOf = (model: ModelDocument): [string, Panel][] => Object.entries(model.panels).sort((a, b) => a[1].order - b[1].order);

/** The panel that is shown; null where there is none. */
export function shownPanel(s: Pick<BenchState, "model" | "panel">): [string, Panel] | null {
  const all = panelsOf(s.model);
  return all.find(([id]) => id === s.panel) ?? all[0] ?? null;
}

export function addPanel(): void {
  const id = newId("q");
  const all = panelsOf(get().model);
  const order = Math.max(0, ...all.map(([, p]) => p.order)) + 1;
  edit("Add a panel", [{ op: "add", path: pointer("panels", id), value: { name: `Panel ${all.length + 1}`, order, items: {} } }]);
  set({ panel: id, panelEdit: { item: null } });
}

export const renamePanel = (id: string, name: string) =>
  edit("Rename a panel", [{ op: "replace", path: pointer("panels", id, "name"), value: name }]);

export function removePanel(id: string): void {
  edit("Remove a panel", [{ op: "remove", path: pointer("panels", id) }]);
  set({ panel: null, panelEdit: null });
}

/** Where a new item of a size stands: the first free place. */
function freeSpot(panel: Panel, width: number, height: number) {
  const taken = (x: number, y: number) =>
    Object.values(panel.items).some((t) => x < t.x + t.width && t.x < x + width && y < t.y + t.height && t.y < y + height);
  for (let y = 0; ; y++) for (let x = 0; x + width <= COLUMNS; x++) if (!taken(x, y)) return { x, y };
}

export function addItem(panel: string, kind: PanelItemKind): void {
  const node = get().model.panels[panel];
  if (!node) return;
  const { width, height, label } = ITEMS[kind];
  const id = newId("i");
  const value: PanelItem = { kind, ...freeSpot(node, width, height), width, height, choices: [] };
  edit(`Add to the panel: ${label.toLowerCase()}`, [{ op: "add", path: pointer("panels", panel, "items", id), value }]);
  set({ panelEdit: { item: id } });
}

export const setItem = (panel: string, item: string, label: string, values: Partial<PanelItem>) =>
  edit(label, members(pointer("panels", panel, "items", item), values));

export function removeItem(panel: string, item: string): void {
  edit("Take off the panel", [{ op: "remove", path: pointer("panels", panel, "items", item) }]);
  set({ panelEdit: { item: null } });
}

export function addAlert(): void {
  const value: Alert = { text: "New alert", grade: "caution", condition: "time > 1", isLatched: false };
  edit("Add an alert", [{ op: "add", path: pointer("alerts", newId("a")), value }]);
}

export const setAlert = (id: string, values: Partial<Alert>) => edit("Change an alert", members(pointer("alerts", id), values));
export const removeAlert = (id: string) => edit("Remove an alert", [{ op: "remove", path: pointer("alerts", id) }]);

export function addFault(signal: string, name: string, more: Partial<Fault> = {}): string {
  const id = newId("f");
  const taken = new Set(Object.values(get().model.faults).map((f) => f.name));
  let own = name;
  for (let n = 2; taken.has(own); n++) own = `${name} ${n}`;
  const value: Fault = { name: own, kind: "stuck", signal, isActive: false, ...more };
  edit("Add a fault", [{ op: "add", path: pointer("faults", id), value }]);
  return id;
}

/** Whether a fault is active: as it was switched in the run that is played, or as it stands. */
export const isFaultActive = (id: string, fault: Fault, switched: ReadonlyMap<string, string> | null): boolean =>
  (switched?.get(`fault ${id}`) ?? String(fault.isActive)) === "true";

/** The signals of a level that have faults, by their keys there: whether one is active. */
export function faultySignals(
  faults: Readonly<Record<string, Fault>>,
  level: string,
  switched: ReadonlyMap<string, string> | null,
): ReadonlyMap<string, boolean> {
  const found = new Map<string, boolean>();
  const prefix = level ? `${level}/` : "";
  for (const [id, fault] of Object.entries(faults)) {
    const key = fault.signal.startsWith(prefix) ? fault.signal.slice(prefix.length) : "/";
    if (!key.includes("/")) found.set(key, (found.get(key) ?? false) || isFaultActive(id, fault, switched));
  }
  return found;
}

export const setFault = (id: string, values: Partial<Fault>) => edit("Change a fault", members(pointer("faults", id), values));
export const removeFault = (id: string) => edit("Remove a fault", [{ op: "remove", path: pointer("faults", id) }]);

/** All signals that a panel shows. */
export const readingsOf = (panel: Panel | undefined): string[] => [
  ...new Set(
    Object.values(panel?.items ?? {}).flatMap((i) => (ITEMS[i.kind].isControl ? [] : [i.target, i.second].filter((s): s is string => !!s))),
  ),
];

/** The signals whose courses a panel shows. */
export const trendsOf = (panel: Panel | undefined): string[] =>
  Object.values(panel?.items ?? {}).flatMap((i) => (i.kind === "trend" && i.target ? [i.target] : []));

/** Asks how the items of the shown panel stand to the model as it is now. */
export async function learnPanel(): Promise<void> {
  const { id, model, panel } = get();
  const shown = shownPanel({ model, panel });
  if (!shown) return set({ panelView: null });
  try {
    const view = await ask(api.GET("/api/models/{id}/panels/{panel}", { params: { path: { id, panel: shown[0] } } }));
    if (get().id === id) set({ panelView: { panel: shown[0], items: view.items } });
  } catch {
    // It is asked again with the next change.
  }
}

/** What a control was moved to last, until it has been taken; one after the other, the last one wins. */
const waiting = new Map<string, () => Promise<unknown>>();
let sending = false;

async function send(): Promise<void> {
  if (sending) return;
  sending = true;
  for (let next = waiting.entries().next(); !next.done; next = waiting.entries().next()) {
    const [key, work] = next.value;
    waiting.delete(key);
    try {
      await work();
    } catch (e) {
      notifyError((e as Error).message);
    }
  }
  sending = false;
}

/** Sets a parameter in the run that is played, from this instant on. */
export function play(target: string, value: string, each = false): void {
  const run = get().play?.run;
  if (!run) return;
  const dot = target.indexOf(".");
  const body = { part: target.slice(0, dot), parameter: target.slice(dot + 1), value, fault: null };
  set({ panelSet: new Map(get().panelSet).set(target, value) });
  // A short press must not be passed over.
  waiting.set(each ? `${target} ${presses++}` : target, () => ask(api.POST("/api/runs/{id}/set", { params: { path: { id: run } }, body })));
  void send();
}

let presses = 0;

/** Switches a fault: in the run that is played, else for the runs to come. */
export function switchFault(fault: string, on: boolean): void {
  const run = get().play?.run;
  if (!run || get().play?.state === "finished") return setFault(fault, { isActive: on });
  const body = { part: null, parameter: null, value: String(on), fault };
  set({ panelSet: new Map(get().panelSet).set(`fault ${fault}`, String(on)) });
  waiting.set(`fault ${fault}`, () => ask(api.POST("/api/runs/{id}/set", { params: { path: { id: run } }, body })));
  void send();
}

/** Says that an alert was seen. */
export const acknowledge = (key: string) => set({ acknowledged: new Set(get().acknowledged).add(key) });

export const layOut = (panel: string, label: string, items: Record<string, Partial<PanelItem>>): void =>
  edit(
    label,
    Object.entries(items).flatMap(([id, values]): Operation[] => members(pointer("panels", panel, "items", id), values)),
  );
