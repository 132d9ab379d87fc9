import { create } from "zustand";
import { api, ask, type ApiError, type Schemas } from "../api/client";
import { notifyError, setStage, useBench } from "./bench";
import { newId, pointer } from "./document";
import { edit, queueIdle } from "./model";
import { members } from "./plotSheets";

/** What of the model is handed on: how it stands, its code, its checks, and edits of it. */

export type Delivery = Schemas["DeliveryNode"];
export type DeliveryView = Schemas["DeliveryView"];
export type DeliveryCheck = Schemas["DeliveryCheck"];
export type WrittenCode = Schemas["WrittenCode"];
export type LineCount = Schemas["LineCount"];

interface Deliveries {
  model: string;
  views: readonly DeliveryView[];
  chosen: string | null;
  /** The code of the chosen one, and of which delivery it is. */
  written: { of: string; code: WrittenCode } | null;
  problem: { of: string; message: string; advice: string | null } | null;
  /** Checks by delivery, of the code as it was then. */
  checks: ReadonlyMap<string, DeliveryCheck>;
  /** The delivery that is being checked. */
  checking: string | null;
  /** The file that is shown; null for the source. */
  file: string | null;
  /** The line that is looked at. */
  line: number | null;
}

const nothing = { views: [], chosen: null, written: null, problem: null, checks: new Map(), checking: null, file: null, line: null };

export const useDeliveries = create<Deliveries>()(() => ({ model: "", ...nothing }));

const get = useBench.getState;
const set = useDeliveries.setState;

/** Deliveries in their order. */
export const inOrder = (deliveries: Readonly<Record<string, Delivery>>): [string, Delivery][] =>
  Object.entries(deliveries).sort((a, b) => Number(a[1].order) - Number(b[1].order));

/** The one that is shown: the chosen one, else the first. */
export function shownDelivery(deliveries: Readonly<Record<string, Delivery>>, chosen: string | null): string | null {
  return chosen !== null && chosen in deliveries ? chosen : (inOrder(deliveries)[0]?.[0] ?? null);
}

/** Asks how all of them stand and for the code of the shown one. */
export async function readDeliveries(): Promise<void> {
  const { id, model } = get();
  if (useDeliveries.getState().model !== id) set({ model: id, ...nothing });
  const shown = shownDelivery(model.deliveries, useDeliveries.getState().chosen);
  if (shown === null) return set({ views: [], written: null, problem: null });
  try {
    await queueIdle();
    const views = ask(api.GET("/api/models/{id}/deliveries", { params: { path: { id } } })).then((v) => {
      if (get().id !== id) return;
      // What was checked in an earlier session still counts.
      const known = v.flatMap((d) => (d.check ? [[d.id, d.check] as const] : []));
      set((now) => ({ views: v, checks: new Map([...known, ...now.checks]) }));
    });
    await readCode(id, shown);
    await views;
  } catch (e) {
    notifyError((e as Error).message);
  }
}

async function readCode(id: string, delivery: string): Promise<void> {
  try {
    const code = await ask(api.GET("/api/models/{id}/deliveries/{delivery}", { params: { path: { id, delivery } } }));
    if (get().id === id) set({ written: { of: delivery, code }, problem: null });
  } catch (e) {
    const { message, advice } = e as ApiError;
    if (get().id === id) set({ written: null, problem: { of: delivery, message, advice: advice ?? null } });
  }
}

export function chooseDelivery(chosen: string): void {
  set({ chosen, file: null, line: null });
  void readDeliveries();
}

export const lookAt = (line: number | null) => set({ line });
export const showFile = (file: string) => set({ file, line: null });

let check: AbortController | null = null;

/** Ends the checks that are under way; nothing is kept of them. */
export const stopChecking = () => check?.abort();

/** Runs all checks of a delivery: compiler, rules, drawn inputs, cases. */
export async function checkDelivery(delivery: string): Promise<void> {
  const { id } = get();
  const own = (check = new AbortController());
  set({ checking: delivery });
  try {
    await queueIdle();
    const params = { path: { id, delivery } };
    const found = await ask(api.POST("/api/models/{id}/deliveries/{delivery}/check", { params, signal: own.signal }));
    if (get().id === id) set((s) => ({ checks: new Map(s.checks).set(delivery, found) }));
  } catch (e) {
    const { message, advice } = e as ApiError;
    if (!own.signal.aborted) notifyError([message, advice].filter(Boolean).join(" "));
  } finally {
    set({ checking: null });
  }
}

export type Candidate = Schemas["DeliveryCandidate"];

/** Parts of the model that may be handed on. */
export async function readCandidates(): Promise<readonly Candidate[]> {
  const { id } = get();
  try {
    await queueIdle();
    return await ask(api.GET("/api/models/{id}/deliverable", { params: { path: { id } } }));
  } catch (e) {
    notifyError((e as Error).message);
    return [];
  }
}

/** Enters a part among what is handed on, and shows it. */
export function addDelivery(part: string, name: string): void {
  const { deliveries } = get().model;
  const id = newId("y");
  const value: Delivery = {
    name,
    order: Math.max(0, ...Object.values(deliveries).map((d) => Number(d.order))) + 1,
    kind: "code",
    part,
    step: "1 ms",
    method: "euler",
    isFloat: false,
    isSolvedOutside: false,
  };
  edit(`Hand on ${name}`, [{ op: "add", path: pointer("deliveries", id), value }]);
  setStage("deliver");
  chooseDelivery(id);
}

export const setDelivery = (id: string, label: string, values: Partial<Delivery>) =>
  edit(label, members(pointer("deliveries", id), values));

export function removeDelivery(id: string): void {
  edit("Take out of what is handed on", [{ op: "remove", path: pointer("deliveries", id) }]);
}

/** Marks a delivery as handed on as it is now; its files are fetched by the address that this gives. */
export function handOn(id: string): string | null {
  const { written } = useDeliveries.getState();
  if (written?.of !== id) return null;
  const { revision } = get();
  setDelivery(id, "Hand on", { delivered: { revision: revision + 1, at: new Date().toISOString(), hash: written.code.hash } });
  return `/api/models/${get().id}/deliveries/${id}/archive`;
}

/** How the lines of a source were reached, by line; of the code as it is, not of an older one. */
export function reachOf(check: DeliveryCheck | undefined, hash: string): ReadonlyMap<number, LineCount> {
  return check && check.hash === hash ? new Map(check.counts.map((c) => [Number(c.line), c])) : new Map();
}
