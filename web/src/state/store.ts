import { create } from "zustand";
import { api, ApiError, ask, type CatalogPart, type ModelView, type RunView } from "../api/client";
import { joinModel } from "../api/hub";
import { fetchTraces, type Series } from "../api/traces";
import { applyOperations, type ModelDocument, type Operation } from "./document";

export type Stage = "build" | "observe" | "tune" | "verify";

interface Pending {
  label: string;
  operations: Operation[];
}

export interface BenchState {
  id: string;
  document: ModelDocument;
  view: ModelView;
  revision: number;
  catalog: ReadonlyMap<string, CatalogPart>;
  stage: Stage;
  selection: ReadonlySet<string>;
  /** Parts lately placed, newest first. */
  recent: string[];
  saving: number;
  notice: { kind: "error" | "info"; text: string } | null;
  run: RunView | null;
  progress: { run: string; part: number } | null;
  traces: ReadonlyMap<string, Series>;
  ghost: ReadonlyMap<string, Series>;
  range: { from: number; to: number } | null;
  time: number | null;
  values: ReadonlyMap<string, number>;
  tunePart: string | null;
  /** The part whose text is open, and the placed part it was opened from. */
  openPart: { name: string; placed: string | null } | null;
}

const none = new Map<string, never>();
const client = Math.random().toString(36).slice(2);

export const useBench = create<BenchState>()(() => ({}) as BenchState);

/** The shipped catalog; a model's view says which parts of the user stand before it. */
let shipped: CatalogPart[] = [];

const withOwn = (own: CatalogPart[]) => new Map([...own, ...shipped].reverse().map((p) => [p.name, p]));

// What the user's parts are, each view of the model says anew.
useBench.subscribe((now, before) => {
  if (!now.view || now.view === before.view || isSame(now.view.ownParts, before.view?.ownParts ?? [])) return;
  useBench.setState({ catalog: withOwn(now.view.ownParts) });
});

const set = useBench.setState;
const get = useBench.getState;

/** Whether what a run shows is of the model as it was before an edit that changes results. */
export const isStale = (s: BenchState): boolean => s.run !== null && Number(s.run.revision) < Number(s.view.resultsRevision);

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

const isSame = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** A record with the entries that did not change as the same objects; the old one where none did. */
function keep<T>(before: Record<string, T>, now: Record<string, T>): Record<string, T> {
  const entries = Object.entries(now).map(([key, v]) => [key, isSame(before[key], v) ? (before[key] as T) : v] as const);
  const changed = entries.length !== Object.keys(before).length || entries.some(([key, v]) => before[key] !== v);
  return changed ? Object.fromEntries(entries) : before;
}

/** The new view with unchanged parts and signals as the same objects, so that nothing is drawn again for them. */
function shared(view: ModelView): ModelView {
  const old = get().view as ModelView | undefined;
  if (!old) return view;
  const parts = Object.fromEntries(
    Object.entries(view.parts).map(([id, part]) => {
      const before = old.parts[id];
      return [id, before ? { ...part, parameters: keep(before.parameters, part.parameters) } : part];
    }),
  );
  const top = keep<unknown>({ ...old }, { ...view, parts: null, signals: null }) as unknown as ModelView;
  return { ...top, parts: keep(old.parts, parts), signals: keep(old.signals, view.signals) };
}

let queue: Pending[] = [];
let pumping: Promise<void> | null = null;
let leave: (() => void) | null = null;

/** Opens a model on the bench. */
export async function openModel(id: string): Promise<void> {
  closeModel();
  const [catalog, opened] = await Promise.all([
    ask(api.GET("/api/catalog")),
    ask(api.GET("/api/models/{id}", { params: { path: { id } } })),
  ]);
  shipped = catalog;
  set({
    id,
    document: opened.document as ModelDocument,
    view: opened.view,
    revision: Number(opened.revision),
    catalog: withOwn(opened.view.ownParts),
    stage: "build",
    selection: new Set(),
    recent: [],
    saving: 0,
    notice: null,
    run: null,
    progress: null,
    traces: none,
    ghost: none,
    range: null,
    time: null,
    values: none,
    tunePart: null,
    openPart: null,
  });
  leave = joinModel(
    id,
    (c) => {
      if (c.client !== client && c.revision > get().revision && queue.length === 0)
        void reload("The model was changed in another window; this is the new state.");
    },
    (p) => set({ progress: { run: p.runId, part: p.part } }),
    () => void reloadModel(),
  );
  if (opened.view.canRun) void startRun();
}

export function closeModel(): void {
  leave?.();
  leave = null;
  queue = [];
}

async function reload(text: string | null): Promise<void> {
  const opened = await ask(api.GET("/api/models/{id}", { params: { path: { id: get().id } } }));
  let document = opened.document as ModelDocument;
  for (const p of queue) document = applyOperations(document, p.operations);
  set({ document, view: opened.view, revision: Number(opened.revision), notice: text ? { kind: "info", text } : get().notice });
  if (opened.view.canRun && get().document.settings.live) void startRun();
}

/** Takes the model as the server has it now, and runs it: after a part of the user's package has changed. */
export const reloadModel = () => reload(null);

/** Opens the text of a part over the diagram; null closes it. */
export const openPart = (name: string | null, placed: string | null = null) => set({ openPart: name === null ? null : { name, placed } });

/** Makes an edit: shown at once, stored in the background, undoable. */
export function edit(label: string, operations: Operation[]): void {
  if (operations.length === 0) return;
  const document = applyOperations(get().document, operations);
  queue.push({ label, operations });
  set({ document, saving: queue.length });
  void store();
}

/** Stores what waits, one edit after the other. */
function store(): Promise<void> {
  pumping ??= pump().finally(() => {
    pumping = null;
  });
  return pumping;
}

async function pump(): Promise<void> {
  let patience = 0;
  while (queue.length > 0) {
    const { id, revision } = get();
    const next = queue[0] as Pending;
    try {
      const answer = await ask(
        api.POST("/api/models/{id}/edits", {
          params: { path: { id } },
          body: { basis: revision, label: next.label, operations: next.operations as never, client },
        }),
      );
      queue.shift();
      patience = 0;
      // The run is asked for before the page is drawn anew.
      if (answer.run) void followRun(answer.run);
      set({ revision: Number(answer.revision), view: shared(answer.view), saving: queue.length });
    } catch (e) {
      const error = e as ApiError;
      if (error.status === 409 && patience++ < 3) {
        // Somebody else was first: take the new state and try this edit on top of it.
        try {
          await reload(null);
          continue;
        } catch {
          /* the edit no longer fits; told below */
        }
      }
      if (error.status === 0) {
        set({ notice: { kind: "error", text: `${error.message} ${error.advice ?? ""}` } });
        await pause(1000);
        continue;
      }
      queue = [];
      set({ saving: 0, notice: { kind: "error", text: `"${next.label}" could not be made: ${error.message}` } });
      await reload(null).catch(() => undefined);
    }
  }
}

/** Takes back or makes again. */
export async function move(direction: "undo" | "redo"): Promise<void> {
  // What was just done may still be on its way; it is what the user means.
  while (pumping) await pumping;
  const { id, revision, document } = get();
  try {
    const body = { params: { path: { id } }, body: { basis: revision, client } };
    const answer = await ask(direction === "undo" ? api.POST("/api/models/{id}/undo", body) : api.POST("/api/models/{id}/redo", body));
    set({
      document: applyOperations(document, answer.operations as unknown as Operation[]),
      revision: Number(answer.revision),
      view: shared(answer.view),
    });
    const next = get();
    const still = new Set([...next.selection].filter((s) => s in next.document.parts || s in next.document.wires));
    if (still.size !== next.selection.size) set({ selection: still });
    if (answer.run) void followRun(answer.run);
  } catch (e) {
    if ((e as ApiError).status === 409) await reload("The model was changed in another window; this is the new state.");
    else set({ notice: { kind: "error", text: (e as Error).message } });
  }
}

export async function startRun(): Promise<void> {
  try {
    const { id } = await ask(api.POST("/api/models/{id}/runs", { params: { path: { id: get().id } } }));
    await followRun(id);
  } catch (e) {
    set({ notice: { kind: "error", text: (e as Error).message } });
  }
}

export async function cancelRun(): Promise<void> {
  const { progress, run } = get();
  const id = run?.state === "running" ? run.id : progress?.run;
  if (id) await ask(api.DELETE("/api/runs/{id}", { params: { path: { id } } }));
}

let following = "";

/** Waits for a run and shows it; the run before becomes the ghost. */
async function followRun(id: string): Promise<void> {
  following = id;
  const { range, time } = get();
  const waiting = () =>
    Promise.all([
      ask(api.GET("/api/runs/{id}", { params: { path: { id }, query: { wait: true } } })),
      fetchTraces(id, probedSignals(), range?.from ?? null, range?.to ?? null, 1200),
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
    const ghost = before.run && before.run.id !== id && before.traces.size > 0 ? before.traces : before.ghost;
    const notice = before.notice?.kind === "error" ? null : before.notice;
    // Curves and values come at once; only a cursor moved meanwhile is asked for again.
    const now = before.time === time ? values : null;
    set({ run, traces, ghost, progress: null, notice, values: now ?? before.values });
    if (!now && before.time !== null) void fetchValues();
  } catch (e) {
    if (following === id) set({ notice: { kind: "error", text: (e as Error).message } });
  }
}

/** Keys of the signals to plot, in strip order. */
export function probedSignals(): string[] {
  return Object.entries(get().document.signals)
    .filter(([, s]) => s.probe !== undefined && s.probe !== null)
    .sort((a, b) => (a[1].probe as number) - (b[1].probe as number))
    .map(([key]) => key);
}

/** Fetches the plotted traces again: after a probe or a zoom. */
export async function refreshTraces(): Promise<void> {
  const { run, range } = get();
  if (!run || run.state !== "finished") return;
  try {
    const traces = await fetchTraces(run.id, probedSignals(), range?.from ?? null, range?.to ?? null, 1200);
    if (get().run?.id === run.id) set({ traces });
  } catch (e) {
    set({ notice: { kind: "error", text: (e as Error).message } });
  }
}

export function setRange(range: { from: number; to: number } | null): void {
  set({ range });
  void refreshTraces();
}

let valuesWanted = false;
let valuesBusy = false;

/** The values of all signals of a run at one time. */
async function valuesAt(id: string, time: number): Promise<ReadonlyMap<string, number>> {
  const values = await ask(api.GET("/api/runs/{id}/values", { params: { path: { id }, query: { time } } }));
  return new Map(Object.entries(values as Record<string, number>));
}

async function fetchValues(): Promise<void> {
  valuesWanted = true;
  if (valuesBusy) return;
  valuesBusy = true;
  while (valuesWanted) {
    valuesWanted = false;
    const { run, time } = get();
    if (!run || time === null) break;
    try {
      set({ values: await valuesAt(run.id, time) });
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

export const select = (ids: Iterable<string>) => set({ selection: new Set(ids) });
export const setStage = (stage: Stage) => set({ stage });
export const tell = (text: string) => set({ notice: { kind: "info", text } });
