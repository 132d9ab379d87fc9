import { api, ask, type Schemas } from "../api/client";
import type { Frame } from "../api/hub";
import { extended } from "../api/traces";
import { client } from "./author";
import { isStale, notify, stopsOf, notifyError, useBench, type BenchState } from "./bench";
import { levelAt, probesOf, referenceOf, type Operation } from "./document";
import { queueIdle, watchRun } from "./model";
import { refreshCurves, refreshRuns } from "./observe";
import { readingsOf, shownPanel, trendsOf } from "./panels";
import { shownSheet, signalsOf } from "./plotSheets";
import { refreshTraces, startRun, setTime } from "./runs";

/** A run that is played by hand: begun, let go, paused, stepped, given other values, branched. Where it is, the server tells. */

const set = useBench.setState;
const get = useBench.getState;
const none = new Map<string, never>();

/** Paces that are offered; null is as fast as it goes. */
export const PACES = [0.01, 0.1, 0.5, 1, 2, 5, 10, 100, null] as const;

export const isPlaying = (s = get()): boolean => s.play !== null && s.play.state !== "finished";

/** Null where it could not be done, which is told. */
async function guarded<T>(work: () => Promise<T>): Promise<T | null> {
  try {
    return await work();
  } catch (e) {
    notifyError((e as Error).message);
    return null;
  }
}

/** What a frame brings at most of present values. */
const MOST_READ = 2000;

/** Signals whose present values are shown: by instruments, and by the places of bodies. */
const readingsNow = (s: BenchState): string[] => [...new Set([...readingsOf(shownPanel(s)?.[1]), ...s.sceneSignals])].slice(0, MOST_READ);

/** Asks for frames of what is shown now. */
function watch(): void {
  const s = get();
  if (!s.play) return;
  const [, sheet] = shownSheet(s);
  const signals = [
    ...new Set([...probesOf(s.model).map((p) => p.reference), ...trendsOf(shownPanel(s)?.[1]), ...signalsOf(sheet).map((w) => w.signal)]),
  ].slice(0, 200);
  const points = [...s.traces.values(), ...(s.curves.get(s.play.run)?.values() ?? [])].filter((c) => c.times.length > 0);
  const after = points.length === 0 ? -1 : Math.min(...points.map((c) => c.times[c.times.length - 1] as number));
  watchRun(s.play.run, { level: s.level, signals, after, readings: readingsNow(s) });
}

/** Shows a played run from where it is. */
function show(run: Schemas["RunView"]): void {
  const before = get();
  set({
    run,
    play: { run: run.id, state: run.state as "paused", truePace: 0, reason: null, saved: run.saved ?? [], apart: Number(run.revision) },
    traces: none,
    panelSet: none,
    acknowledged: new Set(),
    curves: new Map([...before.curves].filter(([id]) => id !== run.id)),
    time: Number(run.reached),
    progress: null,
    range: null,
  });
  watch();
}

/** Begins a run that is played by hand; it stands at its start. */
export async function beginPlay(): Promise<void> {
  await queueIdle();
  const previous = get().run?.id;
  await guarded(async () => {
    const { id } = await ask(api.POST("/api/models/{id}/plays", { params: { path: { id: get().id }, query: { client } } }));
    show(await ask(api.GET("/api/runs/{id}", { params: { path: { id } } })));
    const { overlays, follows } = get();
    if (previous && follows && !overlays.includes(previous)) set({ overlays: [...overlays, previous], ghost: previous });
    await refreshRuns();
  });
}

/** Shows a run that stands since before, such as before the page was loaded anew, to go on with it. */
export const takeUp = (id: string) =>
  guarded(async () => {
    const before = get();
    const run = await ask(api.GET("/api/runs/{id}", { params: { path: { id } } }));
    if (before.play) watchRun(before.play.run, null);
    show(run);
    set({ overlays: before.overlays.filter((r) => r !== id) });
  });

type Go = Partial<Schemas["GoRequest"]>;

/** Lets it go on until something happens; nothing lets it go on to its end. */
export const goOn = (until: Go = {}) =>
  guarded(async () => {
    const { play, pace, stops } = get();
    if (!play) return;
    // Where it only steps, nobody wants to wait for the clock.
    const isStep = until.step || until.condition || until.time;
    const body = { pace: isStep ? null : pace, time: null, step: null, clock: null, condition: null, stops: stopsOf(stops), ...until };
    await ask(api.POST("/api/runs/{id}/go", { params: { path: { id: play.run } }, body }));
  });

const command = (what: "pause" | "stop") =>
  guarded(async () => {
    const { play } = get();
    if (play) await ask(api.POST(`/api/runs/{id}/${what}`, { params: { path: { id: play.run } } }));
  });

export const pausePlay = () => command("pause");

/** Ends it where it is; the run stays to be looked at. */
export const endPlay = () => command("stop");

/** Another pace, of a run that is played or of a replay. */
export async function setPace(pace: number | null): Promise<void> {
  set({ pace });
  const { play } = get();
  if (play && play.state !== "finished")
    await guarded(() => ask(api.POST("/api/runs/{id}/pace", { params: { path: { id: play.run } }, body: { pace } })));
}

/** Keeps where it is, to come back. */
export const saveState = (name: string | null = null) =>
  guarded(async () => {
    const { play } = get();
    if (!play) return;
    const saved = await ask(api.POST("/api/runs/{id}/states", { params: { path: { id: play.run } }, body: { name } }));
    const now = get().play;
    if (now?.run === play.run) set({ play: { ...now, saved: [...now.saved, saved] } });
    notify(`Kept as ${saved.name}: go on from it at any time.`);
  });

/** Goes on from a state that was kept, as another run; the one so far stays beside it. */
export const branchFrom = (state: string) =>
  guarded(async () => {
    const { play, overlays } = get();
    if (!play) return;
    const { id } = await ask(api.POST("/api/runs/{id}/branches", { params: { path: { id: play.run } }, body: { state, client } }));
    watchRun(play.run, null);
    const run = await ask(api.GET("/api/runs/{id}", { params: { path: { id } } }));
    show({ ...run, saved: run.saved?.length ? run.saved : [] });
    set({ overlays: overlays.includes(play.run) ? overlays : [...overlays, play.run] });
    await refreshRuns();
  });

/** Takes over a frame. */
export function takeFrame(frame: Frame): void {
  const s = get();
  const { play } = s;
  if (!play || play.run !== frame.run) return;
  const prefix = s.level ? s.level.length + 1 : 0;
  const traces = new Map(s.traces);
  const curves = new Map(s.curves.get(frame.run) ?? []);
  for (const { signal, times, values } of frame.curves) {
    traces.set(signal, extended(traces.get(signal), times, values));
    curves.set(signal, extended(curves.get(signal), times, values));
  }
  const part = s.run ? frame.time / Number(s.run.end) : 0;
  set({
    traces,
    curves: new Map<string, typeof s.traces>([...s.curves, [frame.run, curves]]),
    values: new Map(Object.entries(frame.values).map(([reference, value]) => [reference.slice(prefix), value])),
    readings: new Map(Object.entries(frame.readings)),
    alerts: frame.alerts,
    time: frame.time,
    run: s.run && { ...s.run, state: frame.state, reached: frame.time, part, verdicts: frame.verdicts ?? s.run.verdicts },
    play: { ...play, state: frame.state, truePace: frame.truePace, reason: frame.reason },
  });
  if (frame.reason && (frame.time !== s.time || frame.reason !== play.reason || frame.state !== play.state)) void settle(frame.run);
}

/** What is known of a run that has paused or ended: events, verdicts, statistics. */
async function settle(id: string): Promise<void> {
  const run = await ask(api.GET("/api/runs/{id}", { params: { path: { id } } })).catch(() => null);
  const { play } = get();
  if (!run || play?.run !== id || play.state === "running") return;
  set({ run, play: { ...play, saved: run.saved ?? play.saved } });
  // Frames bring what can be seen while it moves; now that it stands, all of it is shown.
  await Promise.all([refreshTraces(), refreshCurves()]);
}

/** Puts the played run away: the model's own run is shown again. */
export async function leavePlay(): Promise<void> {
  const { play } = get();
  if (!play) return;
  if (play.state !== "finished") await endPlay();
  watchRun(play.run, null);
  set({ play: null });
  await startRun();
}

/** Another value of a parameter that can go into a played run. */
export interface EnteringValue {
  part: string;
  parameter: string;
  value: string;
}

type Place = Pick<BenchState, "model" | "level" | "definition">;

/** What an edit sets in a run: a parameter of a part of the level that is shown, as that is the use that is meant, or of the whole model. */
export function enteringValue({ model, level, definition }: Place, { op, path, value }: Operation): EnteringValue | null {
  const [, kind, of, what, item, parameters, name] = path.split("/").map((s) => s.replaceAll("~1", "/").replaceAll("~0", "~"));
  if (op === "remove" || kind !== "definitions" || of !== definition || !item) return null;
  if (what === "parts" && parameters === "parameters" && name && levelAt(model, level)?.diagram.parts[item])
    return { part: referenceOf(level, item), parameter: name, value: String(value) };
  if (what === "parameters" && parameters === "value" && level === "") return { part: "", parameter: item, value: String(value) };
  return null;
}

/** The model has got something that the run which is played does not have. */
export function setApart(apart = get().view.resultsRevision): void {
  const { play } = get();
  if (play && play.apart === null) set({ play: { ...play, apart } });
}

/** An edit of values goes into the run that is played, from this instant on; of other edits it is told that they do not. */
export function setWhilePlaying(operations: readonly Operation[]): void {
  const before = get();
  const { play } = before;
  if (!play) return;
  if (play.state === "finished") return setApart();
  const values = operations.map((o) => enteringValue(before, o));
  if (values.includes(null)) setApart();
  else if (!isStale(before)) set({ play: { ...play, apart: null } });
  for (const body of values.filter((v) => v !== null))
    void guarded(async () => {
      const run = await ask(api.POST("/api/runs/{id}/set", { params: { path: { id: play.run } }, body }));
      if (get().play?.run === run.id && run.events) set({ run });
      return true;
    }).then((done) => done === null && setApart(0));
}

// What is shown decides what frames bring.
let watched = "";
useBench.subscribe((s) => {
  if (!s.play || s.play.state === "finished") {
    watched = "";
    return;
  }
  const [id, sheet] = shownSheet(s);
  const shown = JSON.stringify([s.play.run, s.level, id, signalsOf(sheet), probesOf(s.model).map((p) => p.reference), readingsNow(s)]);
  if (shown === watched) return;
  const isFirst = watched === "";
  watched = shown;
  if (!isFirst) watch();
});

/** Replays a finished run at the pace: the time bar, and all that follows it, goes along. */
export function toggleReplay(): void {
  const s = get();
  if (s.replaying) return set({ replaying: false });
  const end = Number(s.run?.reached ?? 0);
  if (!s.run || !(end > 0)) return;
  const from = s.time === null || s.time >= end ? 0 : s.time;
  // As fast as it goes is ten seconds for the whole run.
  const pace = s.pace ?? end / 10;
  const begun = performance.now();
  set({ replaying: true });
  const step = () => {
    const now = get();
    if (!now.replaying || now.run?.id !== s.run?.id) return set({ replaying: false });
    const time = from + (pace * (performance.now() - begun)) / 1000;
    setTime(Math.min(end, time));
    if (time >= end) set({ replaying: false });
    else requestAnimationFrame(step);
  };
  requestAnimationFrame(step);
}
