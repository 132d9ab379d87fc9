import { api, ask, type Schemas } from "../api/client";
import { fetchTraces, type Series } from "../api/traces";
import { notify, notifyError, useBench, type Range } from "./bench";
import { shownSheet, signalsOf } from "./plotSheets";
import { learnSignals } from "./signals";

/** What the sheets show: curves of the present run and of those beside it, and what is known of the runs. */

const set = useBench.setState;
const get = useBench.getState;

/** Width in pixels that curves are reduced to. */
const PLOT_WIDTH = 1400;

/** How the difference of a signal to the reference is kept among the curves of a run. */
export const differenceKey = (signal: string, reference: string) => `${signal}|${reference}`;

/** The run whose curves stand in the foreground. */
export const presentRun = (): string | null => get().run?.id ?? null;

/** Runs that are shown, the present one first. */
export function shownRuns(s = get()): string[] {
  const present = s.run?.id;
  return present ? [present, ...s.overlays.filter((r) => r !== present)] : [...s.overlays];
}

let asked = 0;
const recovered = new Set<string>();

/** Fetches the curves that the shown sheet needs, of all shown runs. */
export async function refreshCurves(): Promise<void> {
  const s = get();
  if (s.stage !== "observe") return;
  const mine = ++asked;
  const [, sheet] = shownSheet(s);
  const wanted = signalsOf(sheet);
  const signals = [...new Set(wanted.map((w) => w.signal))];
  const differences = [
    ...new Set(Object.values(sheet.tiles).flatMap((t) => Object.values(t.curves).flatMap((c) => (c.difference ? [c.signal] : [])))),
  ];
  const [from, to] = [s.range?.from ?? null, s.range?.to ?? null];
  try {
    const learnt = learnSignals(wanted);
    const present = s.run?.id;
    const fetched = await Promise.all(
      shownRuns(s).map(async (run) => {
        const isDifferent = run === present && s.reference !== null && s.reference !== run && differences.length > 0;
        const [own, apart] = await Promise.all([
          fetchTraces(run, signals, from, to, PLOT_WIDTH).catch(() => new Map<string, Series>()),
          isDifferent
            ? fetchTraces(run, differences, from, to, PLOT_WIDTH, s.reference).catch(() => new Map<string, Series>())
            : new Map<string, Series>(),
        ]);
        for (const [signal, series] of apart) own.set(differenceKey(signal, s.reference as string), series);
        return [run, own as ReadonlyMap<string, Series>] as const;
      }),
    );
    await learnt;
    if (mine !== asked) return;
    set({ curves: new Map(fetched) });
    void recoverMissing(fetched);
  } catch (e) {
    if (mine === asked) notifyError((e as Error).message);
  }
}

/** What a run has not kept is made again, once. */
async function recoverMissing(fetched: readonly (readonly [string, ReadonlyMap<string, Series>])[]): Promise<void> {
  for (const [run, curves] of fetched) {
    const signals = [...curves].flatMap(([signal, series]) => (series.missing && !recovered.has(`${run} ${signal}`) ? [signal] : []));
    if (signals.length === 0) continue;
    for (const signal of signals) recovered.add(`${run} ${signal}`);
    try {
      notify("The run is made again for what it did not keep.");
      const { count } = await ask(api.POST("/api/runs/{id}/recovery", { params: { path: { id: run } }, body: { signals } }));
      set({ progress: null, notice: null });
      if (count > 0) await refreshCurves();
    } catch (e) {
      set({ progress: null });
      notifyError((e as Error).message);
    }
  }
}

/** Reads the list of runs anew. */
export async function refreshRuns(): Promise<void> {
  const { id } = get();
  const runs = await ask(api.GET("/api/models/{id}/runs", { params: { path: { id } } })).catch(() => null);
  if (runs && get().id === id) set({ runs });
}

/** Below this share, and this many seconds, nobody can say how long the rest will take. */
const TELLING = 0.02;
const SETTLED = 1;

/** Takes over how far a run is. */
export function takeProgress({ runId, part }: { runId: string; part: number }): void {
  const before = get().progress;
  const since = before?.run === runId ? before.since : performance.now();
  const passed = (performance.now() - since) / 1000;
  set({ progress: { run: runId, part, since, left: part > TELLING && passed > SETTLED ? (passed / part) * (1 - part) : null } });
}

/** Takes over what is told of one run. */
export function takeRun(run: Schemas["RunSummary"]): void {
  const { runs } = get();
  const rest = runs.filter((r) => r.id !== run.id);
  set({ runs: [run, ...rest].sort((a, b) => b.number - a.number) });
}

/** The present run has another one behind it: the run before stays beside it where that is wanted. */
export function followPresent(before: string | null, now: string): void {
  const s = get();
  const kept = s.runs.find((r) => r.id === before);
  const others = s.overlays.filter((r) => r !== now && (r !== s.ghost || kept?.isPinned));
  const overlays = s.follows && before && before !== now ? [...others.filter((r) => r !== before), before] : others;
  set({ overlays, ghost: s.follows && before !== now ? before : null });
}

/** Shows a run beside the present one, or not any more. */
export function toggleRun(id: string): void {
  const s = get();
  if (s.overlays.includes(id)) {
    // Who hides the run before does not want the next one either.
    set({ overlays: s.overlays.filter((r) => r !== id), ...(s.ghost === id ? { ghost: null, follows: false } : {}) });
  } else set({ overlays: [...s.overlays, id] });
  void refreshCurves();
}

/** Whether the run before joins the present one by itself. */
export function setFollows(follows: boolean): void {
  const { ghost, overlays } = get();
  set({ follows, ...(follows ? {} : { ghost: null, overlays: overlays.filter((r) => r !== ghost) }) });
  void refreshCurves();
}

/** The curves of now stay beside whatever comes next. */
export function keepPresent(): void {
  const { run, overlays, ghost } = get();
  if (!run) return;
  set({ overlays: [...overlays.filter((r) => r !== run.id), run.id], ghost: ghost === run.id ? null : ghost });
  notify("The present curves stay beside those of the next runs.");
}

/** The run that others are compared with. */
export function setReference(id: string | null): void {
  const { overlays, run } = get();
  set({ reference: id, overlays: id && id !== run?.id && !overlays.includes(id) ? [...overlays, id] : overlays });
  void refreshCurves();
}

/** Says something of a run: a name, a note, whether it is kept for good. */
export async function labelRun(id: string, label: { name: string; note: string; isPinned: boolean }): Promise<void> {
  try {
    takeRun(await ask(api.PUT("/api/runs/{id}/label", { params: { path: { id } }, body: label })));
  } catch (e) {
    notifyError((e as Error).message);
  }
}

export async function removeRun(id: string): Promise<void> {
  try {
    await ask(api.DELETE("/api/runs/{id}", { params: { path: { id }, query: { remove: true } } }));
    const s = get();
    set({
      runs: s.runs.filter((r) => r.id !== id),
      overlays: s.overlays.filter((r) => r !== id),
      reference: s.reference === id ? null : s.reference,
    });
  } catch (e) {
    notifyError((e as Error).message);
  }
}

/** Another stretch of time, remembered to go back. */
export function goToRange(range: Range | null): void {
  const { range: before, zooms, run } = get();
  if (range && run) {
    const [from, to] = [Math.max(0, range.from), Math.min(Number(run.end), range.to)];
    if (!(to > from)) return;
    range = from <= 0 && to >= Number(run.end) ? null : { from, to };
  }
  set({ range, zooms: { back: [...zooms.back.slice(-50), before], forward: [] } });
  for (const then of onRange) then();
}

/** Goes back, or forward again, through the stretches seen. */
export function stepRange(way: "back" | "forward"): void {
  const { range, zooms } = get();
  const to = zooms[way].at(-1);
  if (to === undefined) return;
  const other = way === "back" ? "forward" : "back";
  set({ range: to, zooms: { ...zooms, [way]: zooms[way].slice(0, -1), [other]: [...zooms[other], range] } });
  for (const then of onRange) then();
}

const onRange: (() => void)[] = [];
/** Told when another stretch of time is shown. */
export const whenRangeChanges = (then: () => void) => void onRange.push(then);
whenRangeChanges(() => void refreshCurves());

// What is shown decides what is fetched.
let shownBefore = "";
useBench.subscribe((s) => {
  if (!s.id || s.stage !== "observe") {
    shownBefore = "";
    return;
  }
  const [id, sheet] = shownSheet(s);
  const shown = JSON.stringify([s.id, id, signalsOf(sheet), s.run?.id, s.run?.state === "finished", s.overlays, s.reference]);
  if (shown === shownBefore) return;
  shownBefore = shown;
  void refreshCurves();
});
