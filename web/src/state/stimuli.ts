import type { Schemas } from "../api/client";
import { runSettings, useBench } from "./bench";
import { newId, pointer, type Operation } from "./document";
import { edit } from "./model";

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

export function removeStimulus(id: string): void {
  const operations: Operation[] = [{ op: "remove", path: pointer("stimuli", id) }];
  if (runSettings(get()).stimulus === id) operations.unshift({ op: "replace", path: pointer("settings", "stimulus"), value: "" });
  edit("Remove a stimulus", operations);
}

export const renameStimulus = (id: string, name: string) =>
  edit("Rename a stimulus", [{ op: "replace", path: pointer("stimuli", id, "name"), value: name }]);

export const addTrack = (stimulus: string, target: string) =>
  edit("Add a track", [
    {
      op: "add",
      path: pointer("stimuli", stimulus, "tracks", newId("k")),
      value: { target, shape: "lines", times: [0, 1], values: [0, 0] },
    },
  ]);

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
