import { create } from "zustand";
import { api, ApiError, ask, type Schemas } from "../api/client";
import { notify, notifyError, offer, setStage, useBench } from "./bench";
import { edit, onStudy, queueIdle } from "./model";
import { refreshCurves, refreshRuns } from "./observe";
import { signalsOf } from "./plotSheets";
import { studiesOf } from "./studyEdits";

/** Runs of studies: how far they are, what they gave, and what of it is looked at. */

export type Job = Schemas["StudyJobView"];
export type Row = Schemas["ResultRow"];
export type Column = Schemas["StudyColumn"];
export type Summary = Schemas["StudySummary"];

export interface Results {
  job: string;
  factors: readonly Column[];
  measures: readonly Column[];
  requirements: readonly Column[];
  /** By row; holes where there is no result yet. */
  rows: readonly (Row | undefined)[];
  /** Simulated time reached by rows under way, by row. */
  running: Readonly<Record<string, number>>;
  end: number;
  best: number | null;
  /** Rows of a search that were better than all before them: row and what the search makes least. */
  improved: readonly (readonly [number, number])[];
  why: string | null;
  ended: string | null;
}

interface StudiesState {
  model: string;
  /** Runs of the model's studies, the newest first. */
  jobs: readonly Job[];
  /** The chosen study; null for the first. */
  study: string | null;
  /** tolerances: those of the model, whatever study is chosen. */
  view: "runs" | "design" | "tolerances";
  results: Results | null;
  summary: Summary | null;
  /** Grows with what is known of the results, for what is asked about them. */
  known: number;
  /** Rows that are picked, everywhere. */
  picks: ReadonlySet<number>;
  /** Rows that are left out of charts and figures. */
  without: ReadonlySet<number>;
  /** The row under the pointer. */
  over: number | null;
  /** The column whose size is the tone of the run strip. */
  tone: string | null;
  problem: ApiError | null;
  busy: boolean;
  /** Whether the server knows of a cluster. */
  hasCluster: boolean;
}

const fresh = {
  jobs: [],
  study: null,
  view: "runs",
  results: null,
  summary: null,
  known: 0,
  picks: new Set<number>(),
  without: new Set<number>(),
  over: null,
  tone: null,
  problem: null,
  busy: false,
  hasCluster: false,
} as const;

export const useStudies = create<StudiesState>()(() => ({ model: "", ...fresh }));

const set = useStudies.setState;
const get = useStudies.getState;

/** The chosen study's id; the first where none is chosen or it is gone. */
export function shownStudy(s: Pick<StudiesState, "study">, model = useBench.getState().model): string | null {
  const all = studiesOf(model.studies);
  return (s.study !== null && s.study in model.studies ? s.study : all[0]?.[0]) ?? null;
}

/** The latest run of a study. */
export const jobOf = (jobs: readonly Job[], study: string | null): Job | null => jobs.find((j) => j.study === study) ?? null;

/** The model that is open; what is known of another one is forgotten. Panes may act before the stage has read anything. */
function openModel(): string {
  const model = useBench.getState().id;
  if (get().model !== model) set({ model, ...fresh });
  return model;
}

/** Reads the studies of the model that is open. */
export async function readStudies(): Promise<void> {
  const model = openModel();
  try {
    const jobs = await ask(api.GET("/api/models/{id}/studies", { params: { path: { id: model } } }));
    if (get().model === model) set({ jobs });
    set({ hasCluster: (await ask(api.GET("/api/engines"))).hasCluster });
    await readResults();
  } catch (e) {
    notifyError((e as Error).message);
  }
}

export function chooseStudy(study: string): void {
  // A study may be chosen from another stage, before anybody has looked at those of this model.
  openModel();
  set({
    study,
    view: get().view === "design" ? "design" : "runs",
    results: null,
    summary: null,
    picks: new Set(),
    without: new Set(),
    over: null,
    problem: null,
  });
  void readResults();
}

/** Takes over how far a run of a study is. */
export function takeStudy(job: Job): void {
  if (get().model !== useBench.getState().id) return;
  const rest = get().jobs.filter((j) => j.id !== job.id);
  set({ jobs: [job, ...rest].sort((a, b) => b.made.localeCompare(a.made)) });
  if (useBench.getState().stage === "explore" && jobOf(get().jobs, shownStudy(get()))?.id === job.id) void readResults();
}

onStudy(takeStudy);

let reading = false;
let again = false;

/** Reads what has come of the chosen study since the last time. */
export async function readResults(): Promise<void> {
  if (reading) {
    again = true;
    return;
  }
  reading = true;
  try {
    do {
      again = false;
      await readOnce();
    } while (again);
  } catch (e) {
    if (!(e instanceof ApiError && e.status === 404)) notifyError((e as Error).message);
  } finally {
    reading = false;
  }
}

async function readOnce(): Promise<void> {
  const job = jobOf(get().jobs, shownStudy(get()));
  if (!job) return set({ results: null, summary: null });
  const before = get().results;
  const same = before?.job === job.id;
  const after = same ? get().known : 0;
  const now = await ask(api.GET("/api/studies/{id}", { params: { path: { id: job.id }, query: { after } } }));
  if (jobOf(get().jobs, shownStudy(get()))?.id !== job.id) return;
  set({
    jobs: get().jobs.map((j) => (j.id === job.id ? now.job : j)),
    known: Number(now.job.changes),
    results: merged(same ? before : null, now),
  });
  if (now.rows.length > 0 || !same) await readSummary(job.id);
}

/** Results with those that came since. */
export function merged(before: Results | null, now: Schemas["StudyResults"]): Results {
  const rows: (Row | undefined)[] = now.isWhole || !before ? [] : [...before.rows];
  rows.length = Number(now.job.rows);
  for (const row of now.rows) rows[Number(row.row)] = row;
  const { factors, measures, requirements, running } = now;
  return {
    job: now.job.id,
    factors,
    measures,
    requirements,
    rows,
    running,
    end: Number(now.end),
    best: now.best == null ? null : Number(now.best),
    improved: now.improved.map((i) => [Number(i.row), Number(i.value)] as const),
    why: now.why ?? null,
    ended: now.ended ?? null,
  };
}

async function readSummary(id: string): Promise<void> {
  const body = { rows: [...get().without] };
  const summary = await ask(api.POST("/api/studies/{id}/summary", { params: { path: { id } }, body }));
  if (get().results?.job === id) set({ summary });
}

/** Takes rows out of all charts and figures, or back in. */
export function leaveOut(rows: readonly number[], out: boolean): void {
  const without = new Set(get().without);
  for (const row of rows)
    if (out) without.add(row);
    else without.delete(row);
  set({ without, known: get().known });
  const id = get().results?.job;
  if (id) void readSummary(id).catch((e: Error) => notifyError(e.message));
}

export async function startStudy(study: string, onCluster = false): Promise<void> {
  openModel();
  set({ busy: true, problem: null });
  try {
    await queueIdle();
    const job = await ask(
      api.POST("/api/models/{id}/studies/{study}/runs", { params: { path: { id: openModel(), study }, query: { onCluster } } }),
    );
    set({ results: null, summary: null, picks: new Set(), without: new Set(), view: "runs" });
    takeStudy(job);
    await readResults();
  } catch (e) {
    set({ problem: e instanceof ApiError ? e : new ApiError(0, String(e)) });
  } finally {
    set({ busy: false });
  }
}

/** Pauses, stops, goes on, puts before others, or runs failed rows again. */
export async function putStudy(
  id: string,
  body: { state?: "running" | "paused" | "stopped"; priority?: number; again?: boolean; here?: boolean },
) {
  try {
    const request = { state: body.state ?? null, priority: body.priority ?? null, again: body.again ?? null, here: body.here ?? null };
    takeStudy(await ask(api.PUT("/api/studies/{id}", { params: { path: { id } }, body: request })));
  } catch (e) {
    notifyError((e as Error).message);
  }
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Adds rows from a spreadsheet's file or from what was copied, as one edit. */
export async function readRows(study: string, table: { file?: string; text?: string }): Promise<void> {
  try {
    await queueIdle();
    const params = { path: { id: openModel(), study } };
    const body = { file: table.file ?? null, text: table.text ?? null };
    const action = await ask(api.POST("/api/models/{id}/studies/{study}/rows", { params, body }));
    edit(action.label, action.operations as Parameters<typeof edit>[1]);
    notify(`${action.label}: done. Undo takes them back.`);
  } catch (e) {
    notifyError((e as Error).message);
  }
}

/** Shows where the courses of rows lie, in all plot sheets. */
export async function showBands(rows: readonly number[], name: string): Promise<void> {
  const id = get().results?.job;
  if (!id) return;
  const signals = [...new Set(Object.values(useBench.getState().model.plotSheets).flatMap((s) => signalsOf(s).map((w) => w.signal)))];
  try {
    const found = await ask(api.POST("/api/studies/{id}/bands", { params: { path: { id } }, body: { rows: [...rows], signals } }));
    if (found.problem != null) return notifyError(found.problem);
    useBench.setState({ bands: { name, runs: Number(found.runs), of: new Map(found.bands.map((b) => [b.signal, b])) }, follows: false });
    setStage("observe");
  } catch (e) {
    notifyError((e as Error).message);
  }
}

/** Makes runs of rows and shows them over one another in Observe, each in its colour. */
export async function overlayRows(rows: readonly number[], colorOf: (row: number) => string): Promise<void> {
  const id = get().results?.job;
  if (!id || rows.length === 0) return;
  try {
    const { runs } = await ask(api.POST("/api/studies/{id}/overlay", { params: { path: { id } }, body: { rows: [...rows] } }));
    const made = Object.values(runs);
    useBench.setState({
      overlays: made,
      follows: false,
      runColors: new Map(Object.entries(runs).map(([row, run]) => [run, colorOf(Number(row))])),
    });
    setStage("observe");
    for (;;) {
      await refreshRuns();
      const open = useBench.getState().runs.filter((r) => made.includes(r.id) && r.state !== "finished");
      await refreshCurves();
      if (open.length === 0) return;
      await pause(300);
    }
  } catch (e) {
    notifyError((e as Error).message);
  }
}

/** Makes a test case of a row, as one edit. */
export async function caseOfRow(row: number): Promise<void> {
  const id = get().results?.job;
  if (!id) return;
  try {
    const action = await ask(api.GET("/api/studies/{id}/rows/{row}/case", { params: { path: { id, row } } }));
    edit(action.label, action.operations as Parameters<typeof edit>[1]);
    offer(`${action.label}: done. It stands under Verify.`, "Go there", () => setStage("verify"));
  } catch (e) {
    notifyError((e as Error).message);
  }
}

/** Takes the values of a row into the model, as one edit. */
export async function applyRow(row: number): Promise<void> {
  const id = get().results?.job;
  if (!id) return;
  try {
    const action = await ask(api.GET("/api/studies/{id}/rows/{row}/values", { params: { path: { id, row } } }));
    edit(action.label, action.operations as Parameters<typeof edit>[1]);
    notify(`${action.label}: done. Undo takes it back.`);
  } catch (e) {
    notifyError((e as Error).message);
  }
}
