import { create } from "zustand";
import { api, ApiError, ask, type GainsView, type Schemas, type TrueRunView } from "../api/client";
import { notify, useBench } from "./bench";
import { edit } from "./model";
import { useTune, whereOf } from "./tune";

export type StepAnswer = Schemas["TuneStepAnswer"];

/** What is wished of a loop: the best under a peak of the sensitivity, or a bandwidth with a margin. */
export type Wish = "best" | "margin";

export interface StepSetting {
  included: boolean;
  form: string;
  wish: Wish;
  peak: number;
  bandwidth: number;
  margin: number;
  /** Of the sine at the controller's output; null for what suits it. */
  amplitude: number | null;
  /** How far the measured value may move; null for any way. */
  limit: number | null;
}

export interface CascadeState {
  /** The model, and what it was, that the results are of. */
  of: string;
  /** Whether plants are measured on the running model. */
  measured: boolean;
  settings: ReadonlyMap<string, StepSetting>;
  results: ReadonlyMap<string, StepAnswer>;
  /** The loop that is tuned just now. */
  running: string | null;
  problem: { part: string; text: string } | null;
  /** Runs of the outermost loop with the applied gains and with all new ones. */
  before: TrueRunView | null;
  after: TrueRunView | null;
}

const nothing = { results: new Map<string, StepAnswer>(), running: null, problem: null, before: null, after: null };

export const useCascade = create<CascadeState>()(() => ({ of: "", measured: true, settings: new Map<string, StepSetting>(), ...nothing }));

const get = useCascade.getState;
const set = useCascade.setState;

let stopping: AbortController | null = null;

/** The setting of a loop: what was chosen, or what suits its present gains. */
export function settingOf(part: string): StepSetting {
  const loop = useTune.getState().loops.find((l) => l.part === part);
  const { figures, gains } = loop ?? {};
  return (
    get().settings.get(part) ?? {
      included: true,
      form: gains?.form === "PID" ? "PID" : "PI",
      wish: "best",
      peak: 1.6,
      bandwidth: Number(figures?.bandwidth ?? 1),
      margin: 60,
      amplitude: null,
      limit: null,
    }
  );
}

export function setStep(part: string, change: Partial<StepSetting>): void {
  set({ settings: new Map(get().settings).set(part, { ...settingOf(part), ...change }) });
}

export const setMeasured = (measured: boolean): void => set({ measured });

/** Forgets results that are of another model, or of what it was before. */
export function cascadeOf(key: string): void {
  if (key === get().of) return;
  stop();
  set({ of: key, ...nothing, ...(key.split(" ")[0] === get().of.split(" ")[0] ? {} : { settings: new Map() }) });
}

export function stop(): void {
  stopping?.abort();
  stopping = null;
}

/** Tunes all chosen loops, each with what was found before it, and runs the model before and after. */
export async function tuneAll(): Promise<void> {
  const { loops } = useTune.getState();
  const { at, point } = whereOf(useTune.getState());
  const chosen = loops.filter((l) => settingOf(l.part).included);
  const outermost = chosen.at(-1);
  if (!outermost) return;
  stop();
  const mine = new AbortController();
  stopping = mine;
  const { signal } = mine;
  const params = { path: { id: useBench.getState().id } };
  const found: { part: string; gains: GainsView }[] = [];
  set(nothing);
  let now = outermost.part;
  try {
    for (const loop of chosen) {
      now = loop.part;
      set({ running: now });
      const s = settingOf(now);
      const answer = await ask(
        api.POST("/api/models/{id}/loops/step", {
          params,
          signal,
          body: {
            part: now,
            at,
            point,
            before: [...found],
            form: s.form,
            margin: s.wish === "margin" ? { bandwidth: s.bandwidth, phaseMargin: s.margin } : null,
            sensitivity: s.wish === "best" ? s.peak : null,
            excitation: get().measured ? { amplitude: s.amplitude, limit: s.limit, low: null, high: null } : null,
          },
        }),
      );
      found.push({ part: now, gains: answer.gains });
      set({ results: new Map(get().results).set(now, answer) });
    }
    set({ running: "run" });
    now = outermost.part;
    const run = (others: typeof found) =>
      ask(api.POST("/api/models/{id}/loops/run", { params, signal, body: { part: outermost.part, point, gains: null, others } }));
    const before = await run([]);
    const after = await run(found);
    set({ before, after, running: null });
  } catch (e) {
    if (signal.aborted) set({ running: null });
    else
      set({
        running: null,
        problem: { part: now, text: e instanceof ApiError ? `${e.message} ${e.advice ?? ""}` : String(e) },
      });
  }
}

/** Puts all gains that were found into the model, in one step. */
export function applyAll(): void {
  const { results } = get();
  const { loops } = useTune.getState();
  const tuned = loops.filter((l) => results.has(l.part));
  edit(
    `Tune ${tuned.map((l) => l.name).join(", ")}`,
    tuned.flatMap((l) =>
      Object.entries(results.get(l.part)?.texts ?? {}).map(([parameter, value]) => ({
        op: "add" as const,
        path: `${l.pointer}/${parameter}`,
        value,
      })),
    ),
  );
  notify(`The gains of ${tuned.length} loops are set; one undo takes them back.`);
}
