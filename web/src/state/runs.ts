import { api, ask } from "../api/client";
import { fetchTraces, type Series } from "../api/traces";
import { notifyError, useBench, type BenchState } from "./bench";
import { client } from "./author";
import { probesOf } from "./document";
import { readingsOf, shownPanel, trendsOf } from "./panels";
import { followPresent, goToRange, refreshRuns, whenRangeChanges } from "./observe";

/** Runs: start, follow, cancel, and what is read from them. */

const set = useBench.setState;
const get = useBench.getState;
const none = new Map<string, never>();

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

export async function startRun(): Promise<void> {
  try {
    const { id } = await ask(api.POST("/api/models/{id}/runs", { params: { path: { id: get().id }, query: { client } } }));
    await followRun(id);
  } catch (e) {
    notifyError((e as Error).message);
  }
}

export async function cancelRun(): Promise<void> {
  const { progress, run } = get();
  const id = run?.state === "running" ? run.id : progress?.run;
  if (id) await ask(api.DELETE("/api/runs/{id}", { params: { path: { id } } }));
}

let following = "";

/** Waits for a run and shows it; the run before becomes the ghost. */
export async function followRun(id: string): Promise<void> {
  // While a run is played by hand, edits go into it; what they start of themselves is only listed.
  if (get().play && get().play?.state !== "finished") return;
  following = id;
  const { range, time } = get();
  const waiting = () =>
    Promise.all([
      ask(api.GET("/api/runs/{id}", { params: { path: { id }, query: { wait: true } } })),
      tracesOf(id, range),
      time === null ? null : valuesAt(id, time).catch(() => null),
    ]);
  try {
    let [run, traces, values] = await waiting();
    while (run.state === "running" && following === id) {
      set({ run });
      // The server answers late while a run goes on; whatever it does, it is not asked without a pause.
      await pause(250);
      [run, traces, values] = await waiting();
    }
    if (following !== id) return;
    const before = get();
    const isNext = before.run && before.run.id !== id && before.traces.size > 0;
    const notice = before.notice?.kind === "error" && !before.notice.stays ? null : before.notice;
    // Curves and values come at once; only a cursor moved meanwhile is asked for again.
    const now = before.time === time ? values : null;
    if (isNext) followPresent(before.run?.id ?? null, id);
    const ghostTraces = get().ghost === null ? none : isNext ? before.traces : before.ghostTraces;
    set({ run, traces, ghostTraces, progress: null, notice, values: now ?? before.values });
    void refreshRuns();
    void fetchAlerts(id).catch(() => undefined);
    if (!now && before.time !== null) void fetchValues();
  } catch (e) {
    if (following === id) notifyError((e as Error).message);
  }
}

/** Width in pixels that traces are reduced to. */
const PLOT_WIDTH = 1200;

/** The traces of the plotted signals of all levels, by identity. */
const tracesOf = (id: string, range: BenchState["range"]): Promise<Map<string, Series>> =>
  fetchTraces(
    id,
    [...new Set([...probesOf(get().model).map((p) => p.reference), ...trendsOf(shownPanel(get())?.[1])])],
    range?.from ?? null,
    range?.to ?? null,
    PLOT_WIDTH,
  );

/** Fetches the plotted traces again: after a probe or a zoom. */
export async function refreshTraces(): Promise<void> {
  const { run, range } = get();
  if (!run || run.state === "running") return;
  try {
    const traces = await tracesOf(run.id, range);
    if (get().run?.id === run.id) set({ traces });
  } catch (e) {
    notifyError((e as Error).message);
  }
}

export const setRange = goToRange;
whenRangeChanges(() => void refreshTraces());

let valuesWanted = false;
let valuesBusy = false;

/** The values of all signals of the level at one time, by their keys on it. */
async function valuesAt(id: string, time: number): Promise<ReadonlyMap<string, number>> {
  const { level } = get();
  const values = await ask(api.GET("/api/runs/{id}/values", { params: { path: { id }, query: { time, level } } }));
  const prefix = level ? level.length + 1 : 0;
  return new Map(Object.entries(values as Record<string, number>).map(([reference, value]) => [reference.slice(prefix), value]));
}

/** What the shown panel reads at one time, and the alerts of the run. */
async function fetchReadings(id: string, time: number): Promise<void> {
  const { model, panel } = get();
  const signal = readingsOf(shownPanel({ model, panel })?.[1]);
  if (signal.length > 0) {
    const found = await ask(api.GET("/api/runs/{id}/readings", { params: { path: { id }, query: { time, signal } } }));
    set({ readings: new Map(Object.entries(found as Record<string, number>)) });
  }

  await fetchAlerts(id);
}

/** The alerts that a run raised, asked for once. */
async function fetchAlerts(id: string): Promise<void> {
  if (alertsOf === id) return;
  alertsOf = id;
  const none = Object.keys(get().model.alerts).length === 0;
  const alerts = none ? [] : await ask(api.GET("/api/runs/{id}/alerts", { params: { path: { id } } }));
  if (get().run?.id === id) set({ alerts });
}

/** The run whose alerts are known. */
let alertsOf = "";

async function fetchValues(): Promise<void> {
  valuesWanted = true;
  if (valuesBusy) return;
  valuesBusy = true;
  while (valuesWanted) {
    valuesWanted = false;
    const { run, time } = get();
    if (!run || time === null) break;
    try {
      const [values] = await Promise.all([valuesAt(run.id, time), fetchReadings(run.id, time)]);
      set({ values });
    } catch {
      break;
    }
  }
  valuesBusy = false;
}

/** Moves the time bar; null hides the cursor. */
export function setTime(time: number | null): void {
  set(time === null ? { time, values: none } : { time });
  if (time !== null) void fetchValues();
}
