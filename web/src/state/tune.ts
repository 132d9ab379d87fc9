import { create } from "zustand";
import { api, ApiError, ask, type DesignAsk, type DesignView, type GainsView, type MapAnswer } from "../api/client";
import type { LoopView, TrueRunView, WishesView } from "../api/client";
import { LatestCall } from "./latestCall";
import { edit } from "./model";
import { notify, useBench } from "./bench";

/** What stands on the tune stage. */
export type TuneView = "loop" | "cascade" | "point" | "points" | "linear" | "modes" | "measured";

export type MapForm = "PI" | "PD" | "PID" | "rejection1" | "rejection2";

export const maps: readonly MapForm[] = ["PI", "PID", "PD", "rejection1", "rejection2"];

/** What the lines of the map stand for. */
export type Depth = "loadError" | "noiseGain";

/** The frequencies in rad/s and the length in s that all responses of a loop share. */
export interface Window {
  from: number;
  to: number;
  end: number;
}

export interface Candidate {
  name: string;
  /** How it came about, in a few words. */
  origin: string;
  gains: GainsView;
}

export interface TuneState {
  /** The model that all this is of. */
  model: string;
  view: TuneView;
  /** Operating point: null for the steady state, else an instant in s. */
  at: number | null;
  point: string;
  /** The saved operating point that all is looked at from; null for the model as it is. */
  saved: string | null;
  loops: readonly LoopView[];
  /** The chosen loop's controller, by ids. */
  part: string | null;
  form: MapForm;
  /** Bandwidth of the observer over that of a disturbance-rejecting controller; null for the present or usual one. */
  ratio: number | null;
  depth: Depth;
  map: MapAnswer | null;
  wishes: WishesView;
  candidates: readonly Candidate[];
  /** The design that is dragged; null before there is one. */
  hand: GainsView | null;
  /** Answers by name: applied, hand, A, B … */
  designs: ReadonlyMap<string, DesignView>;
  frequencies: readonly number[];
  times: readonly number[];
  window: Window | null;
  /** True runs by name. */
  runs: ReadonlyMap<string, TrueRunView>;
  /** Why there is no true run of a design, by name. */
  noRuns: ReadonlyMap<string, string>;
  /** Why the loop cannot be tuned. */
  problem: ApiError | null;
  busy: boolean;
}

export const HAND = "in hand";
export const APPLIED = "applied";

const noWishes: WishesView = { sensitivity: 1.6, noiseGain: null, bandwidth: null, phaseMargin: null, loadError: null };

export const useTune = create<TuneState>()(() => ({
  model: "",
  view: "loop",
  at: null,
  point: "",
  saved: null,
  loops: [],
  part: null,
  form: "PI",
  ratio: null,
  depth: "loadError",
  map: null,
  wishes: noWishes,
  candidates: [],
  hand: null,
  designs: new Map<string, DesignView>(),
  frequencies: [],
  times: [],
  window: null,
  runs: new Map<string, TrueRunView>(),
  noRuns: new Map<string, string>(),
  problem: null,
  busy: false,
}));

const get = useTune.getState;
const set = useTune.setState;

/** What is kept of a loop while another one is looked at, and when the page is opened again. */
type Kept = Pick<TuneState, "form" | "ratio" | "wishes" | "candidates" | "hand">;

const shelfKey = (part: string) => `anchor-bend tune ${get().model} ${part}`;

function shelved(part: string): Kept | null {
  try {
    return JSON.parse(localStorage.getItem(shelfKey(part)) ?? "null") as Kept | null;
  } catch {
    return null;
  }
}

useTune.subscribe(({ part, form, ratio, wishes, candidates, hand }, before) => {
  if (
    part !== null &&
    part === before.part &&
    (form !== before.form || ratio !== before.ratio || wishes !== before.wishes || candidates !== before.candidates || hand !== before.hand)
  )
    localStorage.setItem(shelfKey(part), JSON.stringify({ form, ratio, wishes, candidates, hand } satisfies Kept));
});

const loopsCall = new LatestCall();
const mapCall = new LatestCall();
const designsCall = new LatestCall();
const handCall = new LatestCall();
const runCall = new LatestCall();
const handRunCall = new LatestCall();

/** The saved point that is looked from; null where it was taken away, as by undo. */
const savedOf = (s: TuneState) => (s.saved !== null && s.saved in useBench.getState().model.operatingPoints ? s.saved : null);

/** The operating point as requests name it. */
export const whereOf = (s: TuneState) => ({ at: s.at, point: savedOf(s) });
const where = () => whereOf(get());

const params = () => ({ path: { id: useBench.getState().id } });

function failed(problem: unknown): void {
  set({ problem: problem instanceof ApiError ? problem : new ApiError(0, String(problem)), busy: false });
}

/** Reads the loops of the model as it is, and goes on with the chosen one. */
export function readLoops(): void {
  const model = useBench.getState().id;
  // Loops of another model have nothing to do with this one, even where they are called alike.
  if (model !== get().model)
    set({ model, part: null, loops: [], at: null, saved: null, map: null, designs: new Map(), runs: new Map(), problem: null });
  set({ busy: true });
  loopsCall.run(
    () => ask(api.POST("/api/models/{id}/loops", { params: params(), body: where() })),
    (answer) => {
      const { part } = get();
      const kept = answer.loops.find((l) => l.part === part);
      set({ loops: answer.loops, point: answer.point });
      const next = kept ?? answer.loops.find((l) => !l.problem) ?? answer.loops[0];
      if (!next) set({ part: null, busy: false, problem: null });
      else if (next.part !== part) chooseLoop(next.part);
      else refresh();
    },
    failed,
  );
}

/** Turns to a loop, with what was kept of it. */
export function chooseLoop(part: string): void {
  const loop = get().loops.find((l) => l.part === part);
  const own = maps.find((f) => f === loop?.gains?.form && f !== "PD") ?? "PI";
  set({
    part,
    ...(shelved(part) ?? { form: own, ratio: null, wishes: noWishes, candidates: [], hand: null }),
    map: null,
    designs: new Map(),
    runs: new Map(),
    noRuns: new Map(),
    window: null,
    problem: null,
  });
  refresh();
}

/** Reads the map and all designs of the chosen loop. */
function refresh(): void {
  const { loops, part } = get();
  const loop = loops.find((l) => l.part === part);
  if (loop?.problem) {
    set({ problem: new ApiError(422, loop.problem), map: null, designs: new Map(), runs: new Map(), busy: false });
    return;
  }
  readMap();
}

function readMap(): void {
  const { part, form, ratio, wishes } = get();
  if (!part) return;
  set({ busy: true });
  mapCall.run(
    () =>
      ask(
        api.POST("/api/models/{id}/loops/map", {
          params: params(),
          body: { part, ...where(), form, ratio, from: null, to: null, wishes },
        }),
      ),
    (map) => {
      set({ map, problem: null, busy: false });
      const best = map.advice?.best;
      const { hand } = get();
      readDesigns(
        hand || !best
          ? []
          : [{ ...none(HAND), place: { form, ratio, bandwidth: Number(best.bandwidth), sensitivity: Number(best.sensitivity) } }],
      );
    },
    (problem) => {
      set({ map: null });
      failed(problem);
      // Gains can be judged where nothing can be mapped.
      readDesigns([]);
    },
  );
}

const none = (name: string): DesignAsk => ({ name, gains: null, place: null, margin: null, best: null, drawn: null });

/** Reads what all gains on the stage do, and what is asked for besides. */
function readDesigns(more: readonly DesignAsk[]): void {
  const { part, candidates, hand, window, wishes } = get();
  if (!part) return;
  const asks: DesignAsk[] = [
    none(APPLIED),
    ...candidates.map((c) => ({ ...none(c.name), gains: c.gains })),
    ...(hand && !more.some((m) => m.name === HAND) ? [{ ...none(HAND), gains: hand }] : []),
    ...more,
  ];
  designsCall.run(
    () =>
      ask(
        api.POST("/api/models/{id}/loops/designs", {
          params: params(),
          body: { part, ...where(), asks, from: window?.from ?? null, to: window?.to ?? null, end: window?.end ?? null, wishes },
        }),
      ),
    (answer) => {
      const designs = new Map(answer.designs.map((d) => [d.name, d]));
      const present = get();
      const dragged = present.designs.get(HAND);
      // What was dragged meanwhile is newer.
      if (present.hand !== hand && dragged) designs.set(HAND, dragged);
      const own = designs.get(HAND);
      const [from, to, end] = [answer.frequencies[0], answer.frequencies.at(-1), answer.times.at(-1)].map(Number);
      set({
        designs,
        frequencies: answer.frequencies.map(Number),
        times: answer.times.map(Number),
        window: window ?? { from: from as number, to: to as number, end: end as number },
        hand: own?.gains ?? get().hand,
      });
      readRuns();
    },
    failed,
  );
}

/** Designs for a place of the map; while it is dragged only the last one asked for is waited for. */
export function dragTo(bandwidth: number, sensitivity: number): void {
  const { part, form, ratio, window } = get();
  if (!part || !window) return;
  designHand({ ...none(HAND), place: { form, ratio, bandwidth, sensitivity } }, { part, ...window });
}

/** Takes typed gains in hand. */
export function typeGains(gains: GainsView): void {
  const { part, window } = get();
  if (part && window) designHand({ ...none(HAND), gains }, { part, ...window });
}

/** Takes an input gain of the plant in hand, with the order that it is of. */
export function takeInputGain(form: string, inputGain: number): void {
  const { hand } = get();
  const own = hand?.rejection ?? { bandwidth: 1, ratio: 5 };
  const order = maps.find((f) => f === form);
  if (order) set({ form: order });
  typeGains({ form, k: null, ti: null, td: null, b: null, rejection: { ...own, inputGain } });
  if (order && order !== hand?.form) readMap();
}

/** Takes the gains in hand whose loop comes nearest to a drawn gain; points are rad/s and dB. */
export function drawLoop(points: readonly { frequency: number; gain: number }[]): void {
  const { part, form, ratio, window } = get();
  if (part && window && points.length > 1) designHand({ ...none(HAND), drawn: { form, ratio, points: [...points] } }, { part, ...window });
}

/** Takes a candidate in hand. */
export function takeInHand(name: string): void {
  const gains = get().designs.get(name)?.gains;
  if (gains) typeGains(gains);
}

function designHand(wanted: DesignAsk, body: { part: string } & Window): void {
  handCall.run(
    () =>
      ask(
        api.POST("/api/models/{id}/loops/designs", {
          params: params(),
          body: { ...body, ...where(), asks: [wanted], wishes: get().wishes },
        }),
      ),
    (answer) => {
      const design = answer.designs[0];
      if (!design) return;
      set({ designs: new Map(get().designs).set(HAND, design), hand: design.gains ?? get().hand });
      if (design.gains) readRun(HAND, design.gains);
    },
    failed,
  );
}

/** The model's own runs with all the gains that stand on the stage. */
function readRuns(): void {
  const { designs } = get();
  const wanted = [...designs.values()].filter((d) => d.gains && d.figures?.isStable !== false);
  const next = (i: number): void => {
    const design = wanted[i];
    if (design) readRun(design.name, design.name === APPLIED ? null : (design.gains ?? null), () => next(i + 1));
  };
  const left = <T>(map: ReadonlyMap<string, T>) => new Map([...map].filter(([name]) => designs.has(name)));
  set({ runs: left(get().runs), noRuns: left(get().noRuns) });
  next(0);
}

function readRun(name: string, gains: GainsView | null, then?: () => void): void {
  const { part } = get();
  if (!part) return;
  (then ? runCall : handRunCall).run(
    () => ask(api.POST("/api/models/{id}/loops/run", { params: params(), body: { part, point: savedOf(get()), gains, others: null } })),
    (run) => {
      const noRuns = new Map(get().noRuns);
      if (run.failure) noRuns.set(name, run.failure);
      else noRuns.delete(name);
      set({ runs: new Map(get().runs).set(name, run), noRuns });
      then?.();
    },
    // A run that fails leaves its curve out and says why; the linear answers stay.
    (problem) => {
      const left = new Map(get().runs);
      left.delete(name);
      set({ runs: left, noRuns: new Map(get().noRuns).set(name, problem instanceof ApiError ? problem.message : String(problem)) });
      then?.();
    },
  );
}

const LETTERS = "ABCDEFGH";

/** Keeps the design in hand, or another one, as a candidate. */
export function keep(gains: GainsView | null, origin: string): void {
  if (!gains) return;
  const { candidates } = get();
  const name = [...LETTERS].find((l) => !candidates.some((c) => c.name === l));
  if (!name) {
    notify("There are eight candidates already; take one away first.");
    return;
  }
  set({ candidates: [...candidates, { name, origin, gains }] });
  readDesigns([]);
}

export function dropCandidate(name: string): void {
  set({ candidates: get().candidates.filter((c) => c.name !== name) });
  readDesigns([]);
}

const askCall = new LatestCall();

/** Asks the server for gains; they become a candidate. */
export function askFor(wanted: Pick<DesignAsk, "margin" | "best">, origin: string, refused: (why: string) => void): void {
  const { part, window } = get();
  if (!part) return;
  set({ busy: true });
  const body = { part, ...where(), asks: [{ ...none("asked"), ...wanted }], from: window?.from ?? null, to: window?.to ?? null };
  askCall.run(
    () => ask(api.POST("/api/models/{id}/loops/designs", { params: params(), body: { ...body, end: window?.end ?? null, wishes: null } })),
    (answer) => {
      set({ busy: false });
      const found = answer.designs[0];
      if (!found?.gains) refused(found?.problem ?? "Nothing was found.");
      else keep(found.gains, found.remark ? `${origin}. ${found.remark}` : origin);
    },
    (problem) => {
      set({ busy: false });
      refused(problem instanceof ApiError ? `${problem.message} ${problem.advice ?? ""}` : String(problem));
    },
  );
}

export function setForm(form: MapForm): void {
  set({ form, hand: null, map: null });
  readMap();
}

/** Looks for disturbance-rejecting controllers with another observer. */
export function setRatio(ratio: number): void {
  set({ ratio, hand: null, map: null });
  readMap();
}

export function setWishes(change: Partial<WishesView>): void {
  set({ wishes: { ...get().wishes, ...change } });
  readMap();
}

/** Looks at the model at an instant, at a saved operating point, or where its runs begin. */
export function lookFrom(at: number | null, saved: string | null): void {
  set({ at, saved, window: null });
  readLoops();
}

/** Puts the gains of a design into the model. */
export function apply(name: string): void {
  const { designs, loops, part } = get();
  const design = designs.get(name);
  const loop = loops.find((l) => l.part === part);
  if (!design?.gains || !loop) return;
  const node = loop.pointer.replace(/\/parameters$/, "");
  edit(
    `Tune ${loop.name}: ${name === HAND ? "by hand" : `candidate ${name}`}`,
    design.replacement
      ? [
          ...design.replacement.loose.map((wire) => ({ op: "remove" as const, path: wire })),
          { op: "replace", path: `${node}/type`, value: design.replacement.type },
          { op: "add", path: loop.pointer, value: design.texts },
        ]
      : Object.entries(design.texts).map(([parameter, value]) => ({ op: "add" as const, path: `${loop.pointer}/${parameter}`, value })),
  );
  notify(`${design.replacement ? `${loop.name} is another part now` : `The gains of ${loop.name} are set`}; undo takes that back.`);
}
