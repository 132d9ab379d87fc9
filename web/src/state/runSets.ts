import { api, ask, type Schemas } from "../api/client";
import { fetchTraces, type Series } from "../api/traces";
import { notifyError, useBench } from "./bench";
import { probesOf } from "./document";
import { queueIdle } from "./model";
import { whenRangeChanges } from "./observe";

/** Runs of every combination of what was chosen: start, follow, cancel, and their traces. */

const set = useBench.setState;
const get = useBench.getState;

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Width in pixels that traces are reduced to. */
const PLOT_WIDTH = 900;

export async function startRunSet(choices: readonly Schemas["WantedChoice"][]): Promise<boolean> {
  await queueIdle();
  try {
    const started = await ask(
      api.POST("/api/models/{id}/runsets", { params: { path: { id: get().id } }, body: { choices: [...choices] } }),
    );
    set({ set: started, setTraces: new Map(), hidden: new Set() });
    void follow(started.id);
    return true;
  } catch (e) {
    notifyError((e as Error).message);
    return false;
  }
}

async function follow(id: string): Promise<void> {
  try {
    for (;;) {
      const now = await ask(api.GET("/api/runsets/{id}", { params: { path: { id }, query: { wait: true } } }));
      if (get().set?.id !== id) return;
      set({ set: now });
      await fetchMissing();
      if (now.state === "finished") return;
      await pause(150);
    }
  } catch (e) {
    if (get().set?.id === id) notifyError((e as Error).message);
  }
}

/** Traces of the members that have run and are not here yet. */
async function fetchMissing(): Promise<void> {
  const { set: shown, setTraces, range } = get();
  const wanted = (shown?.members ?? []).flatMap((m) => (m.run && !setTraces.has(m.run) ? [m.run] : []));
  const signals = probesOf(get().model).map((p) => p.reference);
  const found = await Promise.all(
    wanted.map(async (run) => [run, await fetchTraces(run, signals, range?.from ?? null, range?.to ?? null, PLOT_WIDTH)] as const),
  );
  if (get().set?.id === shown?.id) set({ setTraces: new Map<string, ReadonlyMap<string, Series>>([...get().setTraces, ...found]) });
}

/** Fetches all traces of the set again: after a zoom, or when something else is plotted. */
export function refreshSetTraces(): void {
  if (!get().set) return;
  set({ setTraces: new Map() });
  void fetchMissing().catch((e: Error) => notifyError(e.message));
}

export async function cancelRunSet(): Promise<void> {
  const id = get().set?.id;
  if (id) await ask(api.DELETE("/api/runsets/{id}", { params: { path: { id } } }));
}

whenRangeChanges(refreshSetTraces);

/** Puts the set away: the plots show the model's own run again. */
export const closeRunSet = () => set({ set: null, setTraces: new Map(), hidden: new Set() });

/** Shows or hides the curves of one member. */
export function toggleMember(label: string): void {
  const hidden = new Set(get().hidden);
  if (!hidden.delete(label)) hidden.add(label);
  set({ hidden });
}
