import { create } from "zustand";
import { api, ask, type Schemas } from "../api/client";
import { notify, notifyError, setStage, useBench } from "./bench";
import { showView } from "./cases";
import { newId, pointer, type Operation } from "./document";
import { edit, queueIdle } from "./model";
import { members } from "./plotSheets";
import { jobOf, shownStudy, useStudies } from "./studies";

/** Fault trees: what they come to, and edits of them. */

export type FaultTree = Schemas["FaultTreeNode"];
export type TreeGate = Schemas["TreeGateNode"];
export type TreeEvent = Schemas["TreeEventNode"];
export type TreeView = Schemas["FaultTreeView"];

export const useTrees = create<{ model: string; views: readonly TreeView[]; tree: string | null }>()(() => ({
  model: "",
  views: [],
  tree: null,
}));

const get = useBench.getState;

export async function readTrees(): Promise<void> {
  const { id } = get();
  if (useTrees.getState().model !== id) useTrees.setState({ model: id, views: [], tree: null });
  if (Object.keys(get().model.faultTrees).length === 0) return;
  try {
    await queueIdle();
    const views = await ask(api.GET("/api/models/{id}/trees", { params: { path: { id } } }));
    if (get().id === id) useTrees.setState({ views });
  } catch (e) {
    notifyError((e as Error).message);
  }
}

/** Trees in their order. */
export const treesOf = (trees: Readonly<Record<string, FaultTree>>): [string, FaultTree][] =>
  Object.entries(trees).sort((a, b) => Number(a[1].order) - Number(b[1].order));

export function addTree(): string {
  const { faultTrees } = get().model;
  const id = newId("t");
  const value: FaultTree = {
    name: `Top event ${Object.keys(faultTrees).length + 1}`,
    order: Math.max(0, ...Object.values(faultTrees).map((t) => Number(t.order))) + 1,
    top: "top",
    duration: "8760 h",
    gates: { top: { name: "Top event", kind: "or", least: 2, inputs: [] } },
    events: {},
  };
  edit("Add a fault tree", [{ op: "add", path: pointer("faultTrees", id), value }]);
  return id;
}

export const removeTree = (id: string) => edit("Remove a fault tree", [{ op: "remove", path: pointer("faultTrees", id) }]);

export const setTree = (id: string, values: Partial<FaultTree>) => edit("Change a fault tree", members(pointer("faultTrees", id), values));

export const setGate = (id: string, gate: string, values: Partial<TreeGate>) =>
  edit("Change a gate", members(pointer("faultTrees", id, "gates", gate), values));

export const setEvent = (id: string, event: string, values: Partial<TreeEvent>) =>
  edit("Change an event", members(pointer("faultTrees", id, "events", event), values));

/** Puts a new gate or event, or one that is there, below a gate. */
export function addBelow(id: string, gate: string, what: "gate" | "event" | { place: string }): void {
  const inputs = get().model.faultTrees[id]?.gates[gate]?.inputs ?? [];
  const place = typeof what === "object" ? what.place : newId(what === "gate" ? "g" : "e");
  const made: Operation[] =
    what === "gate"
      ? [{ op: "add", path: pointer("faultTrees", id, "gates", place), value: { name: "Gate", kind: "or", least: 2, inputs: [] } }]
      : what === "event"
        ? [{ op: "add", path: pointer("faultTrees", id, "events", place), value: { name: "Event", value: "" } }]
        : [];
  edit(what === "gate" ? "Add a gate" : "Add an event", [
    ...made,
    { op: "add", path: pointer("faultTrees", id, "gates", gate, "inputs"), value: [...inputs, place] },
  ]);
}

/** Takes a place out from below a gate; what stands nowhere any more goes. */
export function takeOut(id: string, gate: string, place: string): void {
  const tree = get().model.faultTrees[id];
  if (!tree) return;
  const gates = {
    ...tree.gates,
    [gate]: { ...(tree.gates[gate] as TreeGate), inputs: (tree.gates[gate]?.inputs ?? []).filter((i) => i !== place) },
  };
  const used = new Set<string>();
  const walk = (at: string) => {
    if (used.has(at)) return;
    used.add(at);
    gates[at]?.inputs.forEach(walk);
  };
  walk(tree.top);
  const gone = (kind: "gates" | "events"): Operation[] =>
    Object.keys(tree[kind])
      .filter((key) => !used.has(key))
      .map((key) => ({ op: "remove", path: pointer("faultTrees", id, kind, key) }));
  edit("Take out of a fault tree", [
    { op: "add", path: pointer("faultTrees", id, "gates", gate, "inputs"), value: gates[gate]?.inputs ?? [] },
    ...gone("gates"),
    ...gone("events"),
  ]);
}

/** The least sets of faults that a search has found, as a tree. */
export async function treeOfSearch(): Promise<void> {
  const job = jobOf(useStudies.getState().jobs, shownStudy(useStudies.getState()));
  if (!job) return;
  try {
    const action = await ask(api.GET("/api/studies/{id}/tree", { params: { path: { id: job.id } } }));
    edit(action.label, action.operations as Parameters<typeof edit>[1]);
    useTrees.setState({ model: get().id, tree: action.operations[0]?.path.split("/")[2] ?? null });
    showView("trees");
    setStage("verify");
    notify("The tree stands under Verify. Give its events rates or probabilities.");
  } catch (e) {
    notifyError((e as Error).message);
  }
}
