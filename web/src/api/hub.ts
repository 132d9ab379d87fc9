import { HubConnectionBuilder, LogLevel } from "@microsoft/signalr";
import type { Schemas } from "./client";

export interface Changed {
  modelId: string;
  revision: number;
  client: string | null;
}

export interface Progress {
  runId: string;
  part: number;
}

/** Where a run that is played is, and what is new since the frame before. */
export interface Frame {
  run: string;
  state: "running" | "paused" | "finished";
  time: number;
  pace: number | null;
  truePace: number;
  reason: string | null;
  curves: { signal: string; times: number[]; values: number[] }[];
  values: Record<string, number>;
  readings: Record<string, number>;
  alerts: Schemas["RaisedAlert"][];
  /** The verdicts so far; nothing where they are those of the frame before. */
  verdicts?: Schemas["Verdict"][] | null;
}

/** A window that has the model open, as others see it. */
export interface PresentWindow {
  window: string;
  name: string;
  level: string;
  selection: string[];
}

export interface Told {
  /** Who has the model open. */
  present: (windows: PresentWindow[]) => void;
  changed: (c: Changed) => void;
  progress: (p: Progress) => void;
  /** A part of the user's package has changed. */
  parts: () => void;
  /** A run has begun, ended, or is called otherwise. */
  run: (r: Schemas["RunSummary"]) => void;
  /** A run of a study has come further. */
  study: (job: Schemas["StudyJobView"]) => void;
  /** A run of cases has come further. */
  cases: () => void;
  frame: (f: Frame) => void;
}

export interface Live {
  /** Asks to be told of a run that is played; null ends it. */
  watch: (run: string, request: { level: string; signals: readonly string[]; after: number; readings: readonly string[] } | null) => void;
  /** Tells the other windows where this one is. */
  where: (at: PresentWindow) => void;
  leave: () => void;
}

/** Joins a model's live connection. */
export function joinModel(modelId: string, told: Told): Live {
  const connection = new HubConnectionBuilder().withUrl("/hub").withAutomaticReconnect().configureLogging(LogLevel.None).build();
  connection.on("changed", told.changed);
  connection.on("progress", told.progress);
  connection.on("parts", told.parts);
  connection.on("run", told.run);
  connection.on("study", told.study);
  connection.on("cases", told.cases);
  connection.on("frame", told.frame);
  connection.on("present", told.present);
  let place: PresentWindow | null = null;
  const tell = () => (place ? connection.invoke("Where", modelId, place).catch(() => undefined) : undefined);
  const join = () =>
    connection
      .invoke("Join", modelId)
      .then(tell)
      .catch(() => undefined);
  connection.onreconnected(join);
  const started = connection.start().then(join, () => undefined);
  return {
    watch: (run, request) =>
      void started
        .then(() => (request ? connection.invoke("Watch", run, request) : connection.invoke("Unwatch", run)))
        .catch(() => undefined),
    where: (at) => {
      place = at;
      void started.then(tell).catch(() => undefined);
    },
    leave: () => void started.then(() => connection.stop()),
  };
}
