import { select, useBench, type DocumentSlice } from "./bench";
import { newId, type ChartName, type NameKind, type Operation, type Written } from "./document";
import { edit, here } from "./model";
import { members } from "./plotSheets";

/** Names of charts and tables: what their texts speak of. */

/** What the level is, where it has names. */
export const written = (s: Pick<DocumentSlice, "chart" | "table">): Written | null => s.chart ?? s.table;

const STEMS: Record<NameKind, string> = { input: "u", output: "y", local: "x", parameter: "p", event: "go", signal: "told" };

export const setName = (id: string, label: string, values: Partial<ChartName>) => edit(label, members(here("names", id), values));

export function addName(kind: NameKind): string {
  const names = Object.values((written(useBench.getState()) as Written).names);
  const id = newId("n");
  const taken = new Set(names.map((n) => n.name));
  const stem = STEMS[kind];
  let name: string = stem;
  for (let n = 2; taken.has(name); n++) name = `${stem}${n}`;
  const order = Math.max(0, ...names.map((n) => n.order)) + 1;
  const type = kind === "event" || kind === "signal" ? "Boolean" : "Real";
  edit("Add a name", [{ op: "add", path: here("names", id), value: { name, kind, type, order } }]);
  select([id]);
  return id;
}

export function removeName(id: string): void {
  const operations: Operation[] = [{ op: "remove", path: here("names", id) }];
  const { table } = useBench.getState();
  // What the rows say of it goes with it.
  if (table?.kind === "decisions")
    for (const [rule, r] of Object.entries(table.rules))
      if (id in r.then) operations.push({ op: "remove", path: here("rules", rule, "then", id) });
  if (table?.kind === "schedule")
    for (const [phase, p] of Object.entries(table.phases))
      if (id in p.commands) operations.push({ op: "remove", path: here("phases", phase, "commands", id) });
  edit("Delete a name", operations);
  select([]);
}
