import type { PresentWindow } from "../api/hub";
import { create } from "zustand";
import type { CatalogPart, ModelView, RunView, Schemas } from "../api/client";
import type { Places } from "../canvas/tidy";
import type { Series } from "../api/traces";
import type { Chart, Diagram, ModelDocument, RunSettings, Table, Valve } from "./document";

export type Stage = "build" | "observe" | "tune" | "explore" | "verify" | "deliver";

/** The model as the user has edited it, and the level of it that the window shows. */
export interface DocumentSlice {
  id: string;
  model: ModelDocument;
  /** The level's part by ids from the root down; empty for the root. */
  level: string;
  /** Id of the level's definition. */
  definition: string;
  /** The level's diagram: what `definition` names in `model`. */
  diagram: Diagram;
  /** The level's chart, where it is one; its diagram is empty then. */
  chart: Chart | null;
  /** The level's decision table or schedule, where it is one; its diagram is empty then. */
  table: Table | null;
  /** The level's directional valve, where it is one. */
  valve: Valve | null;
  revision: number;
  /** Edits that are not stored yet. */
  saving: number;
  /** What whoever opened it may do with it. */
  may: Schemas["Access"];
  /** Whether the window came by a link that is for looking. */
  looks: boolean;
  /** Changes that were tried where only looking is wanted; what was typed goes back with each. */
  refused: number;
  /** Other windows that have the model open. */
  others: readonly PresentWindow[];
}

/** What the server says of the level: how parts look, what signals are called, what was found. */
export interface ViewSlice {
  view: ModelView;
  catalog: ReadonlyMap<string, CatalogPart>;
}

export interface RunSlice {
  run: RunView | null;
  /** A run that goes on: how much of it is done, and the seconds it will still take, once that can be told. */
  progress: { run: string; part: number; since: number; left: number | null } | null;
  /** Traces of the plotted signals of all levels, by identity. */
  traces: ReadonlyMap<string, Series>;
  /** The run before, where it joins the present one by itself. */
  ghost: string | null;
  /** Its traces of the plotted signals. */
  ghostTraces: ReadonlyMap<string, Series>;
  range: Range | null;
  time: number | null;
  values: ReadonlyMap<string, number>;
  /** Runs of several alternatives side by side; null where only the model's own run is shown. */
  set: Schemas["RunSetView"] | null;
  /** Traces of the set's members, by run and signal. */
  setTraces: ReadonlyMap<string, ReadonlyMap<string, Series>>;
  /** Labels of the members whose curves are hidden. */
  hidden: ReadonlySet<string>;
}

/** A stretch of time. */
export interface Range {
  from: number;
  to: number;
}

/** What is looked at of which runs. */
export interface ObserveSlice {
  /** Runs of the model, the newest first. */
  runs: readonly Schemas["RunSummary"][];
  /** Runs whose curves stand beside the present ones. */
  overlays: readonly string[];
  /** Colours of runs that are told apart by them, as those of a study. */
  runColors: ReadonlyMap<string, string>;
  /** Where many runs of a study lie, shown behind the curves; null for none. */
  bands: { name: string; runs: number; of: ReadonlyMap<string, Schemas["SignalBand"]> } | null;
  /** Whether the run before joins the present one by itself. */
  follows: boolean;
  /** The run that others are compared with. */
  reference: string | null;
  /** What is searched for among the signals. */
  search: string;
  /** The sheet of plots that is shown; null for the first. */
  sheet: string | null;
  /** What is selected on it. */
  tile: { id: string; curve: string | null } | null;
  /** Curves of the sheet's signals by run; a difference stands under `${signal}|${reference}`. */
  curves: ReadonlyMap<string, ReadonlyMap<string, Series>>;
  /** How signals are called and shown, by signal and wanted unit. */
  infos: ReadonlyMap<string, Schemas["SignalInfo"]>;
  /** The second instant, for differences; null while there is none. */
  mark: number | null;
  /** Stretches of time seen before the present one, and those gone back from. */
  zooms: { back: readonly (Range | null)[]; forward: readonly (Range | null)[] };
  /** The run that is played by hand. */
  play: PlayState | null;
  /** How fast a run is played or replayed; null for as fast as it goes. */
  pace: number | null;
  replaying: boolean;
}

export interface PlayState {
  run: string;
  state: "running" | "paused" | "finished";
  truePace: number;
  /** Why it stands. */
  reason: string | null;
  saved: readonly Schemas["SavedState"][];
  /** The revision behind which an edit that changes results is not in the run; null while there is none. */
  apart: number | null;
}

export interface SelectionSlice {
  /** How much of Build the scene takes; null for nothing. */
  scene: "half" | "whole" | null;
  /** Signals that a scene in view moves by. */
  sceneSignals: readonly string[];
  /** Whether small curves of the present run stand on the wires. */
  wireCurves: boolean;
  /** Whether charts show how often each transition was taken. */
  chartCounts: boolean;
  /** States and transitions of charts at which a played run pauses, by level and id. */
  stops: ReadonlySet<string>;
  stage: Stage;
  selection: ReadonlySet<string>;
  /** Parts lately placed, newest first. */
  recent: string[];
  notice: { kind: "error" | "info"; text: string; stays?: boolean; offer?: { label: string; run: () => void } } | null;
  tunePart: string | null;
  /** What the pane at the left shows; null while it is closed. */
  pane: "outline" | "catalog" | "history" | null;
  /** The part whose text is open, and the placed part it was opened from. */
  openPart: { name: string; placed: string | null } | null;
  /** The sheet that is open over the diagram. */
  openSheet: string | null;
  /** The two states whose differences are shown over the diagram. */
  /** Where a layout that is looked at puts things; nothing is changed by it yet. */
  tidied: Places | null;
  comparing: { left: StateChoice; right: StateChoice } | null;
}

/** A state of a model that can be chosen: a revision of one, or a file. */
export interface StateChoice {
  label: string;
  model?: string;
  /** None for the present one. */
  revision?: number;
  document?: unknown;
}

/** Panels that play a model, and the alerts of its runs. */
export interface PanelSlice {
  /** The panel that is shown; null for the first. */
  panel: string | null;
  /** Whether it fills the middle. */
  panelFills: boolean;
  /** What of it is being changed; null while it is played. */
  panelEdit: { item: string | null } | null;
  /** What its items set and show in the model as it is. */
  panelView: { panel: string; items: Readonly<Record<string, Schemas["PanelItemView"]>> } | null;
  /** What was set by hand in the present run, by target. */
  panelSet: ReadonlyMap<string, string>;
  /** Values at the instant of the time bar that panels show, by signal. */
  readings: ReadonlyMap<string, number>;
  /** Alerts that the present run has raised so far. */
  alerts: readonly Schemas["RaisedAlert"][];
  /** Those that somebody has seen. */
  acknowledged: ReadonlySet<string>;
  /** Alerts that are not to be told. */
  inhibited: ReadonlySet<string>;
}

export type BenchState = PanelSlice & DocumentSlice & ViewSlice & RunSlice & ObserveSlice & SelectionSlice;

const WIRE_CURVES = "anchor-bend wire curves";

export const useBench = create<BenchState>()(
  () =>
    ({
      wireCurves: localStorage.getItem(WIRE_CURVES) === "yes",
      may: "administer",
      looks: false,
      refused: 0,
      others: [],
      scene: null,
      sceneSignals: [],
      chartCounts: false,
      stops: new Set<string>(),
      panel: null,
      panelFills: false,
      panelEdit: null,
      panelView: null,
      panelSet: new Map<string, string>(),
      readings: new Map<string, number>(),
      alerts: [],
      acknowledged: new Set<string>(),
      inhibited: new Set<string>(),
    }) as unknown as BenchState,
);

/** Whether what a run shows is of the model as it was before an edit that changes results.
 * Edits of values go into a run that is played, so that it keeps up with the model as long as there are no others. */
export function isStale({ run, play, view }: Pick<BenchState, "run" | "play" | "view">): boolean {
  if (run === null) return false;
  const upTo = play ? play.apart : run.revision;
  return upTo !== null && upTo < view.resultsRevision;
}

/** Whether the model is only looked at: by right, or by the link that led here. */
export const onlyLooks = ({ may, looks }: Pick<BenchState, "may" | "looks">): boolean => looks || may === "view";

/** Settings of the runs. */
export const runSettings = (s: BenchState): RunSettings => {
  const { settings } = s.model;
  return settings;
};

export const select = (ids: Iterable<string>) => useBench.setState({ selection: new Set(ids) });
/** Whether a played run pauses at a state or transition of the chart at hand: on entry, on exit, or when it is taken. */
export function toggleStop(id: string, when: "entry" | "exit" = "entry"): void {
  const { stops, level } = useBench.getState();
  const key = stopKey(level, id, when);
  const next = new Set(stops);
  if (!next.delete(key)) next.add(key);
  useBench.setState({ stops: next });
}

export const stopKey = (level: string, id: string, when: "entry" | "exit" = "entry") => `${level}/${id} ${when}`;

/** Where a played run pauses, as the server takes it. */
export const stopsOf = (stops: ReadonlySet<string>) =>
  [...stops].map((key) => {
    const [path, when] = key.split(" ") as [string, string];
    const cut = path.lastIndexOf("/");
    return { chart: path.slice(0, cut), item: path.slice(cut + 1), when };
  });
export const setStage = (stage: Stage) => useBench.setState({ stage });
/** Whether small curves stand on the wires; remembered in this browser. */
export function setWireCurves(wireCurves: boolean): void {
  localStorage.setItem(WIRE_CURVES, wireCurves ? "yes" : "no");
  useBench.setState({ wireCurves });
}
export const showScene = (scene: BenchState["scene"]) => useBench.setState({ scene });
export const showPane = (pane: BenchState["pane"]) => useBench.setState({ pane });
export const notify = (text: string) => useBench.setState({ notice: { kind: "info", text } });
/** Tells something, with what could be done now. */
export const offer = (text: string, label: string, run: () => void) =>
  useBench.setState({ notice: { kind: "info", text, offer: { label, run } } });
/** Tells what is wrong; a run that ends well takes it away, unless it has nothing to do with runs. */
export const notifyError = (text: string, stays = false) => useBench.setState({ notice: { kind: "error", text, stays } });

/** Opens the text of a part over the diagram; null closes it. */
export const openPart = (name: string | null, placed: string | null = null) =>
  useBench.setState({ openPart: name === null ? null : { name, placed }, openSheet: null, comparing: null });
