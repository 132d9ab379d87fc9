import { api, ApiError, ask, type Schemas } from "../api/client";
import { joinModel, type Live } from "../api/hub";
import { notify, notifyError, onlyLooks, select, setStage, runSettings, useBench, type DocumentSlice, type Stage } from "./bench";
import { applyOperations, levelAt, levelsOf, pointer, referenceOf, type ModelDocument, type Valve, type Operation } from "./document";
import { author, client } from "./author";
import { EditQueue } from "./editQueue";
import { takeProgress, takeRun } from "./observe";
import { atNextDrawing } from "./frames";
import { setApart, setWhilePlaying, takeFrame } from "./play";
import { followRun, setTime, startRun } from "./runs";
import { applyChange, setShipped, withOwn } from "./view";

/** The open model: open and close it, edit it, take back and make again, go to a level. */

const set = useBench.setState;
const get = useBench.getState;
const none = new Map<string, never>();

const OTHER_WINDOW = "The model was changed in another window; this is the new state.";

/** How long until a server that did not answer is asked again, in ms. */
const PATIENCE = 1000;

/** A place in the diagram at hand, as a JSON Pointer. */
export const here = (...steps: string[]) => pointer("definitions", get().definition, ...steps);

/** The model with the level that is shown; the root's where that is gone. */
function shown(model: ModelDocument, level: string) {
  const at = levelAt(model, level);
  if (at) return { model, level, ...at };
  const root = levelAt(model, "");
  if (!root) throw new Error("The model has no diagram.");
  return { model, level: "", ...root };
}

const queue = new EditQueue<Schemas["EditAnswer"]>({
  send: ({ label, operations }) => {
    const { id, revision, level } = get();
    const body = { basis: revision, label, operations: operations as never, client, level, author: author() };
    return ask(api.POST("/api/models/{id}/edits", { params: { path: { id } }, body }));
  },
  stored: (answer, waiting, edit) => {
    // The run is asked for before the page is drawn anew.
    if (answer.run) void followRun(answer.run);
    // What has to follow the edit elsewhere, such as names in measures, the server adds to it.
    const more = answer.operations.slice(edit.operations.length) as unknown as Operation[];
    const { model, level } = get();
    set({
      revision: answer.revision,
      view: applyChange(get().view, answer.change),
      saving: waiting,
      ...(more.length > 0 ? shown(applyOperations(model, more), level) : {}),
    });
  },
  takeTheirs: () => reload(null),
  clashed: async (edits, failure) => {
    set({ saving: 0 });
    await reload(null);
    const again = () => {
      try {
        edits.forEach((e) => edit(e.label, e.operations));
      } catch (e) {
        notifyError(`Yours no longer fits the model as it is now: ${(e as Error).message}`, true);
      }
    };
    useBench.setState({
      notice: {
        kind: "error",
        text: `${failure.message} Theirs stands; yours was not made: ${edits.map((e) => e.label).join(", ")}.`,
        stays: true,
        offer: { label: "Make mine all the same", run: again },
      },
    });
  },
  refused: async (edit, failure) => {
    set({ saving: 0 });
    notifyError(`"${edit.label}" could not be made: ${failure.message}`, true);
    await reload(null).catch(() => undefined);
  },
  unreachable: async (failure) => {
    notifyError(`${failure.message} ${(failure as ApiError).advice ?? ""}`);
    await new Promise((resolve) => setTimeout(resolve, PATIENCE));
  },
});

/** Resolves when every edit is stored. */
export const queueIdle = () => queue.idle();

let live: Live | null = null;
let studyListener: ((job: Schemas["StudyJobView"]) => void) | null = null;

/** Who is told of runs of studies; they know of edits, so edits cannot know of them. */
export const onStudy = (told: typeof studyListener) => {
  studyListener = told;
};

let caseListener: (() => void) | null = null;

/** Who is told that a run of cases has come further. */
export const onCases = (told: typeof caseListener) => {
  caseListener = told;
};

/** Asks to be told of a run that is played; null ends it. */
export const watchRun: Live["watch"] = (run, request) => live?.watch(run, request);

/** Opens a model on the bench, at one of its levels. */
export async function openModel(id: string, level = "", stage: Stage = "build", looks = false): Promise<void> {
  closeModel();
  const open = (level: string) => ask(api.GET("/api/models/{id}", { params: { path: { id }, query: { level } } }));
  const [catalog, opened] = await Promise.all([
    ask(api.GET("/api/catalog")),
    // An address may be of a level that has gone meanwhile.
    open(level).catch((e) => (level ? open("") : Promise.reject(e as Error))),
  ]);
  setShipped(catalog);
  set({
    id,
    ...shown(opened.document, level),
    view: opened.view,
    revision: opened.revision,
    may: opened.may,
    looks,
    others: [],
    catalog: withOwn(opened.view.ownParts),
    stage,
    pane: null,
    selection: new Set(),
    recent: [],
    saving: 0,
    notice: null,
    run: null,
    progress: null,
    traces: none,
    ghost: null,
    ghostTraces: none,
    runs: [],
    overlays: [],
    runColors: none,
    bands: null,
    follows: true,
    reference: null,
    search: "",
    sheet: null,
    tile: null,
    curves: none,
    infos: none,
    mark: null,
    zooms: { back: [], forward: [] },
    play: null,
    pace: null,
    replaying: false,
    range: null,
    time: null,
    values: none,
    set: null,
    setTraces: none,
    hidden: new Set(),
    tunePart: null,
    openPart: null,
    openSheet: null,
    comparing: null,
    tidied: null,
    stops: new Set(),
    panel: null,
    panelFills: false,
    scene: null,
    panelEdit: null,
    panelView: null,
    panelSet: none,
    readings: none,
    alerts: [],
    acknowledged: new Set(),
    inhibited: new Set(),
  });
  live = joinModel(id, {
    changed: (c) => {
      if (c.client !== client && c.revision > get().revision && queue.edits.length === 0) void reload(OTHER_WINDOW);
    },
    progress: takeProgress,
    parts: () => void reloadModel(),
    run: takeRun,
    study: (job) => studyListener?.(job),
    cases: () => caseListener?.(),
    frame: atNextDrawing(takeFrame),
    present: (windows) => set({ others: windows.filter((w) => w.window !== client) }),
  });
  tellWhere();
  if (opened.view.canRun) void startRun();
}

/** Tells others where this window is, and what is selected in it. */
function tellWhere(): void {
  const { level, selection } = get();
  live?.where({ window: client, name: author(), level, selection: [...selection] });
}

// A selection by a box changes many times a second; others need to know a few times.
let telling: ReturnType<typeof setTimeout> | undefined;
useBench.subscribe((now, before) => {
  if (now.level === before.level && now.selection === before.selection) return;
  clearTimeout(telling);
  telling = setTimeout(tellWhere, 150);
});

export function closeModel(): void {
  live?.leave();
  live = null;
  queue.clear();
}

async function reload(text: string | null): Promise<void> {
  const { id, level } = get();
  const opened = await ask(api.GET("/api/models/{id}", { params: { path: { id }, query: { level } } }));
  const model = queue.edits.reduce((m, e) => applyOperations(m, e.operations), opened.document);
  set({ ...shown(model, level), view: opened.view, revision: opened.revision });
  if (text) notify(text);
  if (opened.view.canRun && runSettings(get()).live) void startRun();
}

/** Shows another level of the model, with the values of its signals at the time bar. */
export async function goToLevel(level: string, selection: readonly string[] = []): Promise<void> {
  if (level === get().level) return select(selection);
  await queue.idle();
  try {
    const opened = await ask(api.GET("/api/models/{id}", { params: { path: { id: get().id }, query: { level } } }));
    const model = queue.edits.reduce((m, e) => applyOperations(m, e.operations), opened.document);
    set({
      ...shown(model, level),
      view: opened.view,
      revision: opened.revision,
      selection: new Set(selection),
      values: none,
      tidied: null,
    });
    if (get().time !== null) setTime(get().time);
  } catch (e) {
    notifyError((e as Error).message);
  }
}

/** Goes into a part that has a level of its own; false for other parts. */
export function openLevel(part: string): boolean {
  const { level, model } = get();
  const inner = referenceOf(level, part);
  if (!levelAt(model, inner)) return false;
  void goToLevel(inner);
  return true;
}

/** Goes to the level that holds this one, with the part that this one is selected; false at the root. */
export function leaveLevel(): boolean {
  const { level } = get();
  if (level === "") return false;
  const cut = level.lastIndexOf("/");
  void goToLevel(level.slice(0, Math.max(0, cut)), [level.slice(cut + 1)]);
  return true;
}

/** Shows the level that a part stands on, with the part selected. */
export async function goToPart(path: string): Promise<void> {
  const cut = path.lastIndexOf("/");
  await goToLevel(path.slice(0, Math.max(0, cut)), [path.slice(cut + 1)]);
  setStage("build");
}

/** Shows a part by its name: of this level, else the first of the model. */
export function goToNamed(name: string): void {
  const { diagram, model, level } = get();
  const here = Object.keys(diagram.parts).find((id) => diagram.parts[id]?.name === name);
  if (here !== undefined) return void goToPart(referenceOf(level, here));
  for (const l of levelsOf(model)) {
    const found = Object.keys(l.diagram.parts).find((id) => l.diagram.parts[id]?.name === name);
    if (found !== undefined) return void goToPart(referenceOf(l.path, found));
  }
  notify(`No part is called ${name}.`);
}

/** Takes the model as the server has it now, and runs it: after a part of the user's package has changed. */
export const reloadModel = () => reload(null);

/** Whether this window may change the model; that it was tried is counted where it may not. */
export function mayChange(): boolean {
  if (!onlyLooks(get())) return true;
  set({ refused: get().refused + 1 });
  return false;
}

/** Makes an edit: shown at once, stored in the background, undoable. */
export function edit(label: string, operations: Operation[]): void {
  if (operations.length === 0 || !mayChange()) return;
  const { model, level } = get();
  set({ ...shown(applyOperations(model, operations), level), saving: queue.edits.length + 1 });
  queue.push({ label, operations });
  setWhilePlaying(operations);
}

/** Goes back to what the model was at a revision, as an edit. */
export async function restore(to: number): Promise<void> {
  if (!mayChange()) return;
  await queue.idle();
  const { id, revision, model, level } = get();
  try {
    const body = { basis: revision, revision: to, client, level, author: author() };
    take(await ask(api.POST("/api/models/{id}/restore", { params: { path: { id } }, body })), model, level);
    notify(`The model is again as it was at r${to}.`);
  } catch (e) {
    await undone(e as Error);
  }
}

/** What can be selected on the level at hand. */
function selectable({ diagram, chart, table, valve }: DocumentSlice): object[] {
  if (chart) return [chart.states, chart.transitions, chart.names];
  if (table?.kind === "decisions") return [table.rules, table.conditions, table.names];
  if (table?.kind === "schedule") return [table.phases, table.names];
  if (valve) return [valve.positions, valve.ports, ...Object.values(valve.positions as Valve["positions"]).map((p) => p.paths)];
  return [diagram.parts, diagram.wires];
}

/** Takes an edit that the server has worked out. */
function take(answer: Schemas["EditAnswer"], model: ModelDocument, level: string): void {
  setApart();
  set({
    ...shown(applyOperations(model, answer.operations as unknown as Operation[]), level),
    revision: answer.revision,
    view: applyChange(get().view, answer.change),
  });
  const { selection } = get();
  const places = selectable(get());
  const still = new Set([...selection].filter((s) => places.some((p) => s in p)));
  if (still.size !== selection.size) set({ selection: still });
  if (answer.run) void followRun(answer.run);
}

/** Takes back or makes again. */
export async function move(direction: "undo" | "redo"): Promise<void> {
  if (!mayChange()) return;
  // What was just done may still be on its way; it is what the user means.
  await queue.idle();
  const { id, revision, model, level } = get();
  try {
    const request = { params: { path: { id } }, body: { basis: revision, client, level, author: author() } };
    const answer = await ask(
      direction === "undo" ? api.POST("/api/models/{id}/undo", request) : api.POST("/api/models/{id}/redo", request),
    );
    // What was offered was about the state that is left now.
    if (get().notice?.offer) useBench.setState({ notice: null });
    take(answer, model, level);
  } catch (e) {
    await undone(e as Error);
  }
}

async function undone(failure: Error): Promise<void> {
  if ((failure as ApiError).status === 409) await reload(OTHER_WINDOW);
  else notifyError(failure.message);
}

type WithoutLevel<T> = T extends unknown ? Omit<T, "level"> : never;

/** A change of the structure, on the level at hand. */
export type Restructuring = WithoutLevel<Schemas["Restructuring"]>;

/** Makes a change of the structure, which the server works out; what it is about is selected.
 * Null where it could not be made.
 * @param on The level that it happens on, where that is not the one at hand. */
export async function restructure(change: Restructuring, on?: string): Promise<readonly string[] | null> {
  if (!mayChange()) return null;
  await queue.idle();
  const { id, revision, model, level } = get();
  try {
    const body = { basis: revision, change: { ...change, level: on ?? level }, client, level, author: author() };
    const { edit, selection } = await ask(api.POST("/api/models/{id}/structure", { params: { path: { id } }, body }));
    take(edit, model, level);
    if (selection.length > 0 && (on ?? level) === level) select(selection);
    return selection;
  } catch (e) {
    await undone(e as Error);
    return null;
  }
}
