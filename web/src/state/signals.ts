import { api, ask, type Schemas } from "../api/client";
import { useBench } from "./bench";

/** How signals are called and shown: asked for once, and again when the model has changed. */

const set = useBench.setState;
const get = useBench.getState;

export const infoKey = (signal: string, unit: string | null | undefined) => `${signal}|${unit ?? ""}`;

/** What is known of a signal in a unit. */
export const infoOf = (infos: ReadonlyMap<string, Schemas["SignalInfo"]>, signal: string, unit?: string | null) =>
  infos.get(infoKey(signal, unit)) ?? infos.get(infoKey(signal, null));

let knownAt = -1;
let knownOf = "";

/** Learns of signals that are not known yet. */
export async function learnSignals(wanted: readonly { signal: string; unit: string | null }[]): Promise<void> {
  const { id, view } = get();
  if (knownAt !== view.resultsRevision || knownOf !== id) {
    [knownAt, knownOf] = [view.resultsRevision, id];
    const names = [...get().infos.values()].map((i) => ({ signal: i.signal, unit: i.wanted ?? null }));
    wanted = [...wanted, ...names];
  } else {
    const { infos } = get();
    wanted = wanted.filter((w) => !infos.has(infoKey(w.signal, w.unit)));
  }
  const unique = [...new Map(wanted.map((w) => [infoKey(w.signal, w.unit), w])).values()];
  if (unique.length === 0) return;
  const found = await ask(api.POST("/api/models/{id}/signals", { params: { path: { id } }, body: { signals: unique } }));
  if (get().id !== id) return;
  set({ infos: new Map([...get().infos, ...found.map((i) => [infoKey(i.signal, i.wanted), i] as const)]) });
}

/** Signals of the model that match a search. */
export const findSignals = (query: { search?: string; part?: string; unit?: string; kind?: string; offset?: number; limit?: number }) =>
  ask(api.GET("/api/models/{id}/signals", { params: { path: { id: get().id }, query } }));

const RECENT = 12;
const recentKey = () => `anchor-bend recent signals ${get().id}`;

/** Signals lately plotted, the newest first. */
export function recentSignals(): string[] {
  try {
    const kept = JSON.parse(localStorage.getItem(recentKey()) ?? "[]") as unknown;
    return Array.isArray(kept) ? kept.filter((s): s is string => typeof s === "string") : [];
  } catch {
    return [];
  }
}

export function noteRecent(signal: string): void {
  localStorage.setItem(recentKey(), JSON.stringify([signal, ...recentSignals().filter((s) => s !== signal)].slice(0, RECENT)));
}
