import { select, useBench } from "./bench";
import { newId, type Command, type DecisionTable, type Operation, type Phase, type Point, type Schedule } from "./document";
import { edit, here, restructure } from "./model";
import { addName } from "./names";
import { addTile, members } from "./plotSheets";
import { snap } from "../canvas/geometry";

/** Edits of decision tables and schedules as data. Each is one undo step. */

const decisions = () => useBench.getState().table as DecisionTable;
const schedule = () => useBench.getState().table as Schedule;

/** In the order in which they stand. */
export const inOrder = <T extends { order: number }>(all: Readonly<Record<string, T>>): [string, T][] =>
  Object.entries(all).sort((a, b) => a[1].order - b[1].order);

/** The order behind all others. */
export const last = (all: Readonly<Record<string, { order: number }>>) => Math.max(-1, ...Object.values(all).map((a) => a.order)) + 1;

/** The order that puts something behind another one: between it and the next. */
function behind(all: Readonly<Record<string, { order: number }>>, id: string | null): number {
  const places = inOrder(all);
  const at = places.findIndex(([i]) => i === id);
  const next = places[at + 1];
  return at < 0 || !next ? last(all) : ((places[at]?.[1].order ?? 0) + next[1].order) / 2;
}

/** A cell takes a text, or nothing. */
function cell(path: string, was: string | undefined, text: string): Operation[] {
  if (text === (was ?? "")) return [];
  return text === "" ? [{ op: "remove", path }] : [{ op: was === undefined ? "add" : "replace", path, value: text }];
}

const change = (label: string, operations: Operation[]) => operations.length > 0 && edit(label, operations);

export function setCondition(id: string, text: string): void {
  change("Change what is looked at", [{ op: "replace", path: here("conditions", id, "text"), value: text }]);
}

export function setWhen(rule: string, column: string, text: string): void {
  change("Change a condition", cell(here("rules", rule, "when", column), decisions().rules[rule]?.when[column], text));
}

export function setThen(rule: string, output: string, text: string): void {
  change("Change a value", cell(here("rules", rule, "then", output), decisions().rules[rule]?.then[output], text));
}

export const setNote = (rule: string, note: string) =>
  change("Change the reason of a rule", members(here("rules", rule), { note: note || undefined }));

/** Adds a rule behind another one, or as the last; with the same cells where one is given to copy. */
export function addRule(after: string | null, copied?: string): string {
  const { rules } = decisions();
  const id = newId("r");
  const like = copied === undefined ? undefined : rules[copied];
  const value = { order: behind(rules, after), when: like?.when ?? {}, then: like?.then ?? {} };
  edit(like ? "Copy a rule" : "Add a rule", [{ op: "add", path: here("rules", id), value }]);
  select([id]);
  return id;
}

export function addCondition(): string {
  const table = decisions();
  const id = newId("c");
  const used = new Set(Object.values(table.conditions).map((c) => c.text));
  const input = inOrder(table.names).find(([, n]) => n.kind === "input" && !used.has(n.name));
  edit("Add a column", [
    { op: "add", path: here("conditions", id), value: { text: input?.[1].name ?? "true", order: last(table.conditions) } },
  ]);
  select([id]);
  return id;
}

export const addOutput = () => addName("output");

/** Changes the places of two neighbours. */
function swap(
  label: string,
  of: "rules" | "phases" | "conditions",
  all: Readonly<Record<string, { order: number }>>,
  id: string,
  by: -1 | 1,
) {
  const places = inOrder(all).map(([i]) => i);
  const at = places.indexOf(id);
  const other = places[at + by];
  if (at < 0 || other === undefined) return;
  [places[at], places[at + by]] = [other, id];
  edit(
    label,
    places.map((i, order) => ({ op: "replace", path: here(of, i, "order"), value: order })),
  );
}

export function moveRow(id: string, by: -1 | 1): void {
  const { table } = useBench.getState();
  if (table?.kind === "decisions")
    return id in table.rules
      ? swap("Change the order of rules", "rules", table.rules, id, by)
      : swap("Change the order of columns", "conditions", table.conditions, id, by);
  if (table?.kind === "schedule") swap("Change the order of phases", "phases", table.phases, id, by);
}

export function removeRow(id: string): void {
  const { table } = useBench.getState();
  if (table?.kind === "decisions" && id in table.rules) edit("Delete a rule", [{ op: "remove", path: here("rules", id) }]);
  else if (table?.kind === "decisions" && id in table.conditions)
    edit("Delete a column", [
      { op: "remove", path: here("conditions", id) },
      ...Object.entries(table.rules)
        .filter(([, r]) => id in r.when)
        .map(([rule]): Operation => ({ op: "remove", path: here("rules", rule, "when", id) })),
    ]);
  else if (table?.kind === "schedule" && id in table.phases) edit("Delete a phase", [{ op: "remove", path: here("phases", id) }]);
  select([]);
}

export const setPhase = (id: string, label: string, values: Partial<Phase>) => edit(label, members(here("phases", id), values));

/** Adds a phase behind another one, or as the last. */
export function addPhase(after: string | null): string {
  const { phases } = schedule();
  const id = newId("f");
  const taken = new Set(Object.values(phases).map((p) => p.name));
  let name = "Phase";
  for (let n = 2; taken.has(name); n++) name = `Phase ${n}`;
  edit("Add a phase", [{ op: "add", path: here("phases", id), value: { name, order: behind(phases, after), lasts: "1 s", commands: {} } }]);
  select([id]);
  return id;
}

/** What a command does in a phase: other members of it, or nothing. */
export function setCommand(phase: string, command: string, values: Partial<Command> | null): void {
  const was = schedule().phases[phase]?.commands[command];
  const path = here("phases", phase, "commands", command);
  if (values === null) {
    if (was) edit("Let a command stay where it is", [{ op: "remove", path }]);
    return;
  }
  if (!was) return edit("Give a command a value", [{ op: "add", path, value: { to: "0", way: "step", ...values } }]);
  edit("Change a command", members(path, values));
}

export const setRepeats = (repeats: boolean) =>
  edit(repeats ? "Repeat the schedule" : "Do not repeat the schedule", [{ op: "replace", path: here("repeats"), value: repeats }]);

export const placeDecisions = (at: Point) => restructure({ kind: "makeDecisionTable", x: snap(at.x), y: snap(at.y), name: null });
export const placeSchedule = (at: Point) => restructure({ kind: "makeSchedule", x: snap(at.x), y: snap(at.y), name: null });

/** Shows in plots which rule applied, or which phase went on, when: bands on the sheet at hand. */
export function plotRows(): void {
  const { table, view, level } = useBench.getState();
  if (!table || !view.table) return;
  const rows = inOrder<{ order: number }>(table.kind === "decisions" ? table.rules : table.phases);
  const signals = rows.map(([id]) => view.table?.lit[id]).filter((s) => s !== undefined);
  addTile(
    "bands",
    signals.map((s) => `${level}.${s}`),
    {
      title: `${table.kind === "decisions" ? "Rules" : "Phases"} of ${table.name}`,
      height: Math.max(3, Math.ceil(signals.length / 2) + 1),
    },
  );
}
