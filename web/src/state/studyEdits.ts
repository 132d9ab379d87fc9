import type { Schemas } from "../api/client";
import { useBench } from "./bench";
import { newId, pointer, type Operation } from "./document";
import { edit } from "./model";
import { members } from "./plotSheets";

/** Studies as data: what they hold, and edits of them. Each is one undo step. */

export type Study = Schemas["StudyNode"];
export type StudyFactor = Schemas["StudyFactorNode"];
export type StudyDesign = Schemas["StudyDesignNode"];
export type StudySearch = Schemas["StudySearchNode"];
export type Chart = Schemas["StudyChartNode"];
export type Candidate = Schemas["FactorCandidate"];

const get = useBench.getState;

/** Studies of a model in their order. */
export const studiesOf = (studies: Readonly<Record<string, Study>>): [string, Study][] =>
  Object.entries(studies).sort((a, b) => a[1].order - b[1].order);

export const freshDesign = (more: Partial<StudyDesign> = {}): StudyDesign => ({
  kind: "grid",
  runs: 100,
  seed: 1,
  draws: 1,
  hasTolerances: false,
  ending: "all",
  within: 0.02,
  ...more,
});

export const freshSearch = (more: Partial<StudySearch> = {}): StudySearch => ({
  goal: "",
  keepsRequirements: true,
  method: "auto",
  under: "nominal",
  order: 2,
  endsWhenMissed: false,
  runs: 200,
  seed: 1,
  ...more,
});

export const freshChart = (kind: string, more: Partial<Chart> = {}): Chart => ({
  kind,
  order: 0,
  x: "run",
  y: "run",
  columns: [],
  fit: kind === "scatter" ? "line" : "none",
  ...more,
});

const order = (of: Readonly<Record<string, { order: number }>>) => Math.max(0, ...Object.values(of).map((o) => Number(o.order))) + 1;

/** What a new study is for. */
export type Purpose = "sweep" | "tolerances" | "best" | "worst";

const names: Record<Purpose, string> = { sweep: "Sweep", tolerances: "Tolerances", best: "Best values", worst: "Worst case" };

export function addStudy(purpose: Purpose): string {
  const { studies } = get().model;
  const id = newId("s");
  const taken = new Set(Object.values(studies).map((s) => s.name));
  let name = names[purpose];
  for (let n = 2; taken.has(name); n++) name = `${names[purpose]} ${n}`;
  const search = purpose === "best" ? freshSearch() : purpose === "worst" ? freshSearch({ worst: "" }) : null;
  const value: Study = {
    name,
    order: order(studies),
    factors: {},
    design: freshDesign(purpose === "tolerances" ? { draws: 200, hasTolerances: Object.keys(get().model.tolerances).length > 0 } : {}),
    keeps: "sheets",
    conditions: [],
    rows: [],
    off: [],
    charts: {},
    ...(search ? { search } : {}),
  };
  edit("Add a study", [{ op: "add", path: pointer("studies", id), value }]);
  return id;
}

/** A search for what breaks a requirement, over points of a stimulus and the model's tolerances. */
export const addBreakingStudy = (requirement: string, points: readonly Candidate[]): string =>
  addSearch(`Breaks ${get().model.requirements[requirement]?.name ?? "a requirement"}`, { worst: requirement }, points);

/** A search for a run that comes to something that no case came by. */
export const addReachingStudy = (words: string, reach: string, points: readonly Candidate[]): string =>
  addSearch(`Closes: ${words}`.slice(0, 100), { worst: "", reach }, points);

function addSearch(wanted: string, search: Partial<StudySearch>, points: readonly Candidate[]): string {
  const { studies, stimuli, tolerances, settings: run } = get().model;
  const id = newId("s");
  const taken = new Set(Object.values(studies).map((s) => s.name));
  let name = wanted;
  for (let n = 2; taken.has(name); n++) name = `${wanted} ${n}`;
  const factors: Record<string, StudyFactor> = Object.fromEntries(
    points.map((c, i) => [`f${i + 1}`, { target: c.target, values: c.values, order: i + 1, isDrawn: false }]),
  );
  // Points count in runs that their stimulus drives.
  const stimulus = points[0]?.target.split(":")[1] ?? "";
  if (points.length > 0 && run.stimulus !== stimulus)
    factors["f0"] = { target: "#stimulus", values: `"${stimuli[stimulus]?.name ?? ""}"`, order: 0, isDrawn: false };
  const value: Study = {
    name,
    order: order(studies),
    factors,
    design: freshDesign({ hasTolerances: Object.keys(tolerances).length > 0 }),
    keeps: "sheets",
    conditions: [],
    rows: [],
    off: [],
    charts: {},
    search: freshSearch({ ...search, runs: 300, endsWhenMissed: true }),
  };
  edit("Add a search", [{ op: "add", path: pointer("studies", id), value }]);
  return id;
}

/** A search for the least sets of the model's faults that make a requirement missed. */
export function addFaultStudy(requirement: string): string {
  const { studies, requirements, faults } = get().model;
  const id = newId("s");
  const taken = new Set(Object.values(studies).map((s) => s.name));
  const wanted = `Faults that break ${requirements[requirement]?.name ?? "a requirement"}`;
  let name = wanted;
  for (let n = 2; taken.has(name); n++) name = `${wanted} ${n}`;
  const value: Study = {
    name,
    order: order(studies),
    factors: Object.fromEntries(
      Object.keys(faults).map((f, i) => [`f${i + 1}`, { target: `#fault:${f}`, values: "off, on", order: i + 1, isDrawn: false }]),
    ),
    design: freshDesign(),
    keeps: "sheets",
    conditions: [],
    rows: [],
    off: [],
    charts: {},
    search: freshSearch({ worst: requirement, method: "cutsets", runs: 20_000 }),
  };
  edit("Add a search", [{ op: "add", path: pointer("studies", id), value }]);
  return id;
}

export const removeStudy = (id: string) => edit("Remove a study", [{ op: "remove", path: pointer("studies", id) }]);

export function copyStudy(id: string): string {
  const { studies } = get().model;
  const copy = newId("s");
  const from = studies[id];
  if (from)
    edit("Copy a study", [
      { op: "add", path: pointer("studies", copy), value: { ...from, name: `${from.name}, copy`, order: order(studies) } },
    ]);
  return copy;
}

export const setStudy = (id: string, label: string, values: Partial<Study>) => edit(label, members(pointer("studies", id), values));

export function addFactor(id: string, candidate: Candidate): void {
  const study = get().model.studies[id];
  if (!study) return;
  // Tolerances lie about what there is.
  const values = candidate.values || (Number(study.design.draws) > 1 && candidate.kind === "parameter" ? "± 10 %" : "");
  const value: StudyFactor = {
    target: candidate.target,
    values,
    order: order(study.factors),
    isDrawn: false,
  };
  edit(`Vary ${candidate.label}`, [{ op: "add", path: pointer("studies", id, "factors", newId("f")), value }]);
}

export const setFactor = (id: string, factor: string, values: Partial<StudyFactor>) =>
  edit("Change a factor", members(pointer("studies", id, "factors", factor), values));

export const removeFactor = (id: string, factor: string) =>
  edit("Take a factor away", [{ op: "remove", path: pointer("studies", id, "factors", factor) }]);

export const setDesign = (id: string, values: Partial<StudyDesign>) =>
  edit("Change the design", members(pointer("studies", id, "design"), values));

export function setSearch(id: string, values: Partial<StudySearch>): void {
  const now = get().model.studies[id]?.search;
  if (now) edit("Change the search", [{ op: "add", path: pointer("studies", id, "search"), value: { ...now, ...values } }]);
}

/** Switches rows on or off. */
export function setRows(id: string, numbers: readonly number[], isOn: boolean): void {
  const off = new Set((get().model.studies[id]?.off ?? []).map(Number));
  for (const n of numbers)
    if (isOn) off.delete(n);
    else off.add(n);
  edit(isOn ? "Switch rows on" : "Switch rows off", [
    { op: "add", path: pointer("studies", id, "off"), value: [...off].sort((a, b) => a - b) },
  ]);
}

export function addRows(id: string, rows: readonly Schemas["StudyRowNode"][]): void {
  const study = get().model.studies[id];
  if (study) edit("Add rows", [{ op: "add", path: pointer("studies", id, "rows"), value: [...study.rows, ...rows] }]);
}

/** Changes a cell of a row that was made by hand. */
export function setCell(id: string, row: number, factor: string, text: string): void {
  edit("Change a row", [{ op: "add", path: pointer("studies", id, "rows", String(row), "values", factor), value: text }]);
}

export const removeRow = (id: string, row: number) =>
  edit("Remove a row", [{ op: "remove", path: pointer("studies", id, "rows", String(row)) }]);

export const factorsOf = (study: Study): [string, StudyFactor][] =>
  Object.entries(study.factors).sort((a, b) => Number(a[1].order) - Number(b[1].order));

export const chartsOf = (study: Study): [string, Chart][] =>
  Object.entries(study.charts).sort((a, b) => Number(a[1].order) - Number(b[1].order));

/** The charts that a study shows become its own, so that one of them can be changed. */
function kept(id: string, shown: readonly [string, Chart][]): { operations: Operation[]; charts: Record<string, Chart> } {
  const own = get().model.studies[id]?.charts ?? {};
  if (Object.keys(own).length > 0) return { operations: [], charts: own };
  const charts = Object.fromEntries(shown.map(([key, chart], i) => [key, { ...chart, order: i + 1 }]));
  return { operations: [{ op: "add", path: pointer("studies", id, "charts"), value: charts }], charts };
}

export function addChart(id: string, chart: Chart, shown: readonly [string, Chart][]): void {
  const { operations, charts } = kept(id, shown);
  const value = { ...chart, order: order(charts) };
  edit("Add a chart", [...operations, { op: "add", path: pointer("studies", id, "charts", newId("c")), value }]);
}

export function setChart(id: string, chart: string, values: Partial<Chart>, shown: readonly [string, Chart][]): void {
  const { operations } = kept(id, shown);
  edit("Change a chart", [...operations, ...members(pointer("studies", id, "charts", chart), values)]);
}

export function removeChart(id: string, chart: string, shown: readonly [string, Chart][]): void {
  const { operations } = kept(id, shown);
  edit("Remove a chart", [...operations, { op: "remove", path: pointer("studies", id, "charts", chart) }]);
}
