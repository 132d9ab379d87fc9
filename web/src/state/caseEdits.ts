import type { Schemas } from "../api/client";
import { useBench } from "./bench";
import { newId, pointer, type Operation } from "./document";
import { edit } from "./model";
import { members } from "./plotSheets";

/** Test cases as data: what they hold, and edits of them. Each is one undo step. */

export type Case = Schemas["CaseNode"];
export type CaseGroup = Schemas["CaseGroupNode"];
export type CaseValue = Schemas["CaseValueNode"];
export type Expected = Schemas["ExpectedNode"];
export type Held = Schemas["HeldMeasureNode"];

const get = useBench.getState;

type Cases = Readonly<Record<string, Case>>;
type Groups = Readonly<Record<string, CaseGroup>>;

const byOrder = <T extends { order: number }>(all: Readonly<Record<string, T>>): [string, T][] =>
  Object.entries(all).sort((a, b) => Number(a[1].order) - Number(b[1].order));

const nextOrder = (all: Readonly<Record<string, { order: number }>>) => Math.max(0, ...Object.values(all).map((o) => Number(o.order))) + 1;

/** Cases by their groups, those without one last; groups without cases are there too. */
export function grouped(cases: Cases, groups: Groups): { id: string; group: CaseGroup | null; cases: [string, Case][] }[] {
  const all = byOrder(cases);
  const named = byOrder(groups).map(([id, group]) => ({
    id,
    group: group as CaseGroup | null,
    cases: all.filter((c) => c[1].group === id),
  }));
  const rest = all.filter((c) => !c[1].group || !groups[c[1].group]);
  return rest.length > 0 || named.length === 0 ? [...named, { id: "", group: null, cases: rest }] : named;
}

/** A name that no other has: with a number behind it where it is taken. */
export function freeName(wanted: string, taken: readonly string[]): string {
  let name = wanted;
  for (let n = 2; taken.includes(name); n++) name = `${wanted} ${n}`;
  return name;
}

const names = (all: Readonly<Record<string, { name: string }>>) => Object.values(all).map((o) => o.name);

export function addCase(group: string | null = null): string {
  const { cases } = get().model;
  const id = newId("c");
  const value: Case = {
    name: freeName("Case", names(cases)),
    order: nextOrder(cases),
    tags: [],
    values: {},
    expected: {},
    measures: {},
    ...(group ? { group } : {}),
  };
  edit("Add a case", [{ op: "add", path: pointer("cases", id), value }]);
  return id;
}

export function copyCase(id: string): string {
  const { cases } = get().model;
  const copy = newId("c");
  const from = cases[id];
  if (from) {
    const value = { ...from, name: freeName(`${from.name}, copy`, names(cases)), order: nextOrder(cases) };
    edit("Copy a case", [{ op: "add", path: pointer("cases", copy), value }]);
  }
  return copy;
}

export const removeCase = (id: string) => edit("Remove a case", [{ op: "remove", path: pointer("cases", id) }]);

/** Settings of a case; null takes one away. */
export const setCase = (id: string, label: string, values: { [K in keyof Case]?: Case[K] | null }) => {
  const now = get().model.cases[id] as Readonly<Record<string, unknown>> | undefined;
  const gone: Operation[] = Object.entries(values)
    .filter(([key, value]) => value === null && now?.[key] !== undefined && now[key] !== null)
    .map(([key]) => ({ op: "remove", path: pointer("cases", id, key) }));
  const set = Object.fromEntries(Object.entries(values).filter(([, value]) => value !== null));
  edit(label, [...gone, ...members(pointer("cases", id), set)]);
};

/** Where values are set: in a case, or in a group for all its cases. */
export type ValuesOf = { kind: "cases" | "caseGroups"; id: string };

const valuesAt = (of: ValuesOf) => get().model[of.kind][of.id]?.values ?? {};

export function addValue(of: ValuesOf, candidate: Schemas["FactorCandidate"]): void {
  const value: CaseValue = { target: candidate.target, text: candidate.present ?? "", order: nextOrder(valuesAt(of)) };
  edit(`Set ${candidate.label}`, [{ op: "add", path: pointer(of.kind, of.id, "values", newId("v")), value }]);
}

export const setValue = (of: ValuesOf, value: string, text: string) =>
  edit("Change a value of a case", [{ op: "replace", path: pointer(of.kind, of.id, "values", value, "text"), value: text }]);

export const removeValue = (of: ValuesOf, value: string) =>
  edit("Take a value away", [{ op: "remove", path: pointer(of.kind, of.id, "values", value) }]);

export const valuesOf = (values: Readonly<Record<string, CaseValue>>) => byOrder(values);

export const setExpected = (id: string, expected: string, values: Partial<Expected>) =>
  edit("Change what is expected", members(pointer("cases", id, "expected", expected), values));

export const removeExpected = (id: string, expected: string) =>
  edit("Expect a signal no more", [{ op: "remove", path: pointer("cases", id, "expected", expected) }]);

export const addHeld = (id: string, measure: string) =>
  edit("Hold a measure", [{ op: "add", path: pointer("cases", id, "measures", newId("m")), value: { measure } satisfies Held }]);

export const setHeld = (id: string, held: string, values: { atLeast?: string | null; atMost?: string | null }) => {
  const now = get().model.cases[id]?.measures[held];
  if (!now) return;
  const value = Object.fromEntries(Object.entries({ ...now, ...values }).filter(([, v]) => v !== null && v !== undefined && v !== ""));
  edit("Change the limits of a measure", [{ op: "add", path: pointer("cases", id, "measures", held), value }]);
};

export const removeHeld = (id: string, held: string) =>
  edit("Hold a measure no more", [{ op: "remove", path: pointer("cases", id, "measures", held) }]);

export function addGroup(): string {
  const { caseGroups } = get().model;
  const id = newId("g");
  const value: CaseGroup = { name: freeName("Group", names(caseGroups)), order: nextOrder(caseGroups), values: {} };
  edit("Add a group of cases", [{ op: "add", path: pointer("caseGroups", id), value }]);
  return id;
}

export const setGroup = (id: string, values: Partial<CaseGroup>) =>
  edit("Change a group of cases", members(pointer("caseGroups", id), values));

/** A group goes, its cases stay. */
export function removeGroup(id: string): void {
  const left: Operation[] = Object.entries(get().model.cases)
    .filter(([, c]) => c.group === id)
    .map(([key]) => ({ op: "remove", path: pointer("cases", key, "group") }));
  edit("Remove a group of cases", [...left, { op: "remove", path: pointer("caseGroups", id) }]);
}
