import { api, ask, type Schemas } from "../api/client";
import { notify, notifyError, runSettings, useBench } from "./bench";
import { newId, pointer, type Operation } from "./document";
import { edit } from "./model";
import { infoOf, learnSignals } from "./signals";

/** Stimuli as data: named courses that drive sources and inputs, and which of them drives the runs. */

export type Track = Schemas["TrackNode"];

const get = useBench.getState;

export const drives = (id: string) =>
  edit("Choose what drives the runs", [{ op: "replace", path: pointer("settings", "stimulus"), value: id }]);

export function addStimulus(): string {
  const id = newId("u");
  const name = `Stimulus ${Object.keys(get().model.stimuli).length + 1}`;
  edit("Add a stimulus", [{ op: "add", path: pointer("stimuli", id), value: { name, tracks: {} } }]);
  return id;
}

/** A stimulus that gives what was set by hand in a run, as it went. */
export async function stimulusOf(run: string): Promise<void> {
  try {
    const { stimulus, left } = await ask(api.GET("/api/runs/{id}/stimulus", { params: { path: { id: run } } }));
    edit("Make a stimulus of a run", [{ op: "add", path: pointer("stimuli", newId("u")), value: stimulus }]);
    const without = left.length > 0 ? ` Not in it, as it belongs to no part: ${left.join(", ")}.` : "";
    notify(`${stimulus.name} is among the stimuli.${without}`);
  } catch (e) {
    notifyError((e as Error).message);
  }
}

/** The course of a track's signal in a run, in the unit that it is read in. */
export async function recordTrack(stimulus: string, track: string, run: string): Promise<void> {
  const target = get().model.stimuli[stimulus]?.tracks[track]?.target;
  if (!target) return;
  try {
    const course = await ask(api.GET("/api/runs/{id}/course", { params: { path: { id: run }, query: { signal: target } } }));
    setTrack(stimulus, track, { times: course.times, values: course.values, unit: course.unit ?? undefined });
  } catch (e) {
    notifyError((e as Error).message);
  }
}

export function removeStimulus(id: string): void {
  const operations: Operation[] = [{ op: "remove", path: pointer("stimuli", id) }];
  if (runSettings(get()).stimulus === id) operations.unshift({ op: "replace", path: pointer("settings", "stimulus"), value: "" });
  edit("Remove a stimulus", operations);
}

export const renameStimulus = (id: string, name: string) =>
  edit("Rename a stimulus", [{ op: "replace", path: pointer("stimuli", id, "name"), value: name }]);

/** A track in the unit that its signal is read in: what the signal does of itself, to be changed from there. */
export async function addTrack(stimulus: string, target: string): Promise<void> {
  const { run } = get();
  const [course] = await Promise.all([
    run && run.state !== "running"
      ? ask(api.GET("/api/runs/{id}/course", { params: { path: { id: run.id }, query: { signal: target } } })).catch(() => null)
      : null,
    learnSignals([{ signal: target, unit: null }]).catch(() => undefined),
  ]);
  const unit = course?.unit ?? infoOf(get().infos, target)?.view.unit;
  const points = course ?? { times: [0, Number(run?.end ?? 1)], values: [0, 0] };
  const value = { target, shape: "lines", times: points.times, values: points.values, ...(unit ? { unit } : {}) };
  edit("Add a track", [{ op: "add", path: pointer("stimuli", stimulus, "tracks", newId("k")), value }]);
}

export const removeTrack = (stimulus: string, track: string) =>
  edit("Remove a track", [{ op: "remove", path: pointer("stimuli", stimulus, "tracks", track) }]);

/** Other members of a track; times and values go together. */
export function setTrack(stimulus: string, track: string, values: Partial<Track>): void {
  const now = get().model.stimuli[stimulus]?.tracks[track];
  if (now) edit("Change a track", [{ op: "replace", path: pointer("stimuli", stimulus, "tracks", track), value: { ...now, ...values } }]);
}

/** Points as lines of time and value, and back; null where a line is none. */
export const pointsText = (t: Pick<Track, "times" | "values">): string => t.times.map((time, i) => `${time}\t${t.values[i]}`).join("\n");

export function parsePoints(text: string): { times: number[]; values: number[] } | null {
  const points: [number, number][] = [];
  for (const line of text.split(/\r?\n/)) {
    if (line.trim() === "") continue;
    // Tabs and semicolons leave the comma to the decimals.
    const cells = (/[\t;]/.test(line) ? line.replaceAll(",", ".").split(/[\t;]/) : line.split(/[,\s]+/))
      .map((c) => c.trim())
      .filter(Boolean);
    const [time, value] = cells.map(Number);
    if (time === undefined || value === undefined || !Number.isFinite(time) || !Number.isFinite(value)) {
      // A line of titles may stand first.
      if (points.length === 0 && cells.length > 1) continue;
      return null;
    }
    points.push([time, value]);
  }
  if (points.length === 0) return null;
  // Points of one time keep their order: they are a jump.
  points.sort((a, b) => a[0] - b[0]);
  return { times: points.map((p) => p[0]), values: points.map((p) => p[1]) };
}

/** A coordinate on the grid of round steps that a span has room for. */
export function snapped(value: number, span: number): number {
  const step = 10 ** Math.floor(Math.log10(span / 20));
  return Number((Math.round(value / step) * step).toPrecision(12));
}
