import { create } from "zustand";
import { api, ApiError, ask, type Schemas } from "../api/client";
import { notify, notifyError, setStage, useBench } from "./bench";
import { edit, onCases, queueIdle } from "./model";
import { refreshCurves, refreshRuns } from "./observe";

/** Runs of test cases: how far they are, what they gave, and what of it is looked at. */

export type CaseRow = Schemas["CaseRow"];
export type CaseCell = Schemas["CaseCell"];
export type CaseDetail = Schemas["CaseDetail"];
export type CaseResult = Schemas["CaseResult"];

interface CasesState {
  model: string;
  /** requirements: by the run at hand; cases: the matrix of both; coverage: what cases came by; trees: fault trees. */
  view: "requirements" | "cases" | "coverage" | "trees";
  /** The newest results of all cases; null while they are read. */
  all: Schemas["CasesView"] | null;
  /** What is chosen: a case, a requirement, or where both meet; a group of cases alone. */
  case: string | null;
  requirement: string | null;
  group: string | null;
  /** The newest result of the chosen case. */
  detail: CaseDetail | null;
  shows: "all" | "failed" | "stale";
  problem: ApiError | null;
}

const fresh = {
  view: "requirements",
  all: null,
  case: null,
  requirement: null,
  group: null,
  detail: null,
  shows: "all",
  problem: null,
} as const;

export const useCases = create<CasesState>()(() => ({ model: "", ...fresh }));

const [get, set] = [useCases.getState, useCases.setState];

/** The model that is open; what was known of another one is forgotten. */
function openModel(): string {
  const { id } = useBench.getState();
  if (get().model !== id) set({ model: id, ...fresh });
  return id;
}

let reading: Promise<void> | null = null;
let again = false;

/** Reads what the cases of the open model gave. */
export async function readCases(): Promise<void> {
  openModel();
  again = reading !== null;
  reading ??= (async () => {
    try {
      do {
        again = false;
        const id = openModel();
        await queueIdle();
        const all = await ask(api.GET("/api/models/{id}/cases", { params: { path: { id } } }));
        if (get().model === id) set({ all });
        await readDetail();
      } while (again);
    } catch (e) {
      if (!(e instanceof ApiError && e.status === 404)) notifyError((e as Error).message);
    } finally {
      reading = null;
    }
  })();
  await reading;
}

async function readDetail(): Promise<void> {
  const { model: id, case: chosen } = get();
  if (!chosen) return set({ detail: null });
  // The server knows a case that was just made when the edit is stored.
  await queueIdle();
  if (get().case !== chosen) return;
  const path = { id, case: chosen };
  const detail = await ask(api.GET("/api/models/{id}/cases/{case}/result", { params: { path } })).catch(() => null);
  if (get().case === chosen) set({ detail });
}

/** Chooses a case, a requirement, or where both meet. */
export function choose(chosen: { case?: string | null; requirement?: string | null; group?: string | null }): void {
  openModel();
  const before = get().case;
  const next = { case: chosen.case ?? null, requirement: chosen.requirement ?? null, group: chosen.group ?? null };
  set({ ...next, ...(next.case === before ? {} : { detail: null }) });
  if (next.case && next.case !== before) void readDetail();
}

/** Shows a part of Verify, also from another stage before anybody has been there. */
export function showView(view: CasesState["view"]): void {
  openModel();
  set({ view });
}

onCases(() => {
  if (get().model === useBench.getState().id && useBench.getState().stage === "verify") void readCases();
});

/** Runs cases: those that are named, or all, the failed or the stale ones. */
export async function runCases(which: { cases?: readonly string[]; choice?: "all" | "failed" | "stale" }): Promise<void> {
  const id = openModel();
  set({ problem: null });
  try {
    await queueIdle();
    const body = { cases: which.cases ? [...which.cases] : null, choice: which.choice ?? null };
    const suite = await ask(api.POST("/api/models/{id}/cases/runs", { params: { path: { id } }, body }));
    const { all } = get();
    if (all) set({ all: { ...all, suite } });
    await readCases();
  } catch (e) {
    set({ problem: e instanceof ApiError ? e : new ApiError(0, String(e)) });
  }
}

export async function stopCases(): Promise<void> {
  const run = get().all?.suite?.id;
  if (!run) return;
  await ask(api.DELETE("/api/cases/runs/{run}", { params: { path: { run } } })).catch((e: Error) => notifyError(e.message));
  await readCases();
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Makes the run of a case and shows it in Observe beside the others. */
export async function lookAt(id: string): Promise<void> {
  const model = openModel();
  try {
    await queueIdle();
    const { run } = await ask(api.POST("/api/models/{id}/cases/{case}/look", { params: { path: { id: model, case: id } } }));
    useBench.setState({ overlays: [run], follows: false });
    setStage("observe");
    for (;;) {
      await refreshRuns();
      await refreshCurves();
      if (!useBench.getState().runs.some((r) => r.id === run && r.state !== "finished")) return;
      await pause(300);
    }
  } catch (e) {
    notifyError((e as Error).message);
  }
}

/** Makes a case of a run: what drove it, and the courses of signals as what is expected. */
export async function capture(run: string, name: string, signals: readonly string[]): Promise<string | null> {
  try {
    await queueIdle();
    const action = await ask(api.POST("/api/runs/{run}/case", { params: { path: { run } }, body: { name, signals: [...signals] } }));
    edit(action.label, action.operations as Parameters<typeof edit>[1]);
    notify(`${action.label}: done. Undo takes it back.`);
    return action.operations[0]?.path.split("/")[2] ?? null;
  } catch (e) {
    notifyError((e as Error).message);
    return null;
  }
}

/** Reads what a case expects from a spreadsheet's file, as one edit. */
export async function readTable(id: string, file: string): Promise<void> {
  try {
    await queueIdle();
    const params = { path: { id: openModel(), case: id } };
    const action = await ask(api.POST("/api/models/{id}/cases/{case}/table", { params, body: { file, text: null } }));
    edit(action.label, action.operations as Parameters<typeof edit>[1]);
    notify(`${action.label}: done. Undo takes it back.`);
  } catch (e) {
    notifyError((e as Error).message);
  }
}

/** Reads requirements from a spreadsheet's file, as one edit. */
export async function readRequirements(file: string): Promise<void> {
  try {
    await queueIdle();
    const params = { path: { id: openModel() } };
    const action = await ask(api.POST("/api/models/{id}/requirements/rows", { params, body: { file, text: null } }));
    edit(action.label, action.operations as Parameters<typeof edit>[1]);
    notify(`${action.label}: done. Undo takes it back.`);
  } catch (e) {
    notifyError((e as Error).message);
  }
}
