import type { Schemas } from "../api/client";
import { notify, offer, useBench } from "./bench";
import { newId, pointer, type Operation } from "./document";
import { edit, restructure } from "./model";

/** Sheets of named values as edits. */

export type Sheet = Schemas["SheetNode"];
export type Row = Schemas["RowNode"];

const present = () => useBench.getState();

/** Opens a sheet over the diagram; null closes it. */
export const openSheet = (id: string | null) => useBench.setState({ openSheet: id, openPart: null, comparing: null });

const sheetOf = (id: string): Sheet | undefined => present().model.sheets?.[id];

/** A name made of words: letters, digits and underscores. */
const identifier = (words: string) => words.trim().replace(/[^A-Za-z0-9]+/g, "_");

/** Adds an empty sheet and opens it. */
export function addSheet(): void {
  const { model } = present();
  const names = new Set(Object.values(model.sheets ?? {}).map((s) => s.name));
  let name = "Parameters";
  for (let n = 2; names.has(name); n++) name = `Parameters ${n}`;
  const id = newId("s");
  const value = { name, chooser: `${identifier(name)}_column`, active: '"Values"', columns: { c1: { name: "Values" } }, rows: {} };
  edit("Add a sheet", [{ op: "add", path: pointer("sheets", id), value }]);
  openSheet(id);
}

export function removeSheet(id: string): void {
  openSheet(null);
  edit(`Remove ${sheetOf(id)?.name ?? "sheet"}`, [{ op: "remove", path: pointer("sheets", id) }]);
}

export const renameSheet = (id: string, name: string) =>
  edit("Rename the sheet", [{ op: "replace", path: pointer("sheets", id, "name"), value: name }]);

/** Adds a column of values, which has the first one's where nothing is typed. */
export function addColumn(id: string, name: string): void {
  const columns = Object.values(sheetOf(id)?.columns ?? {}).map((c) => c.name);
  if (columns.includes(name)) return notify(`There is a column ${name} already.`);
  edit(`Add the column ${name}`, [{ op: "add", path: pointer("sheets", id, "columns", newId("c")), value: { name } }]);
}

/** Renames a column; the sheet goes on with it where it was active. */
export function renameColumn(id: string, column: string, name: string): void {
  const sheet = sheetOf(id);
  const before = sheet?.columns[column]?.name;
  if (!sheet || before === undefined) return;
  const operations: Operation[] = [{ op: "replace", path: pointer("sheets", id, "columns", column, "name"), value: name }];
  if (sheet.active === JSON.stringify(before))
    operations.push({ op: "replace", path: pointer("sheets", id, "active"), value: JSON.stringify(name) });
  edit(`Rename the column ${before}`, operations);
}

export function removeColumn(id: string, column: string): void {
  const sheet = sheetOf(id);
  const left = Object.entries(sheet?.columns ?? {}).filter(([key]) => key !== column);
  const gone = sheet?.columns[column]?.name;
  if (!sheet || left.length === 0) return;
  const operations: Operation[] = [{ op: "remove", path: pointer("sheets", id, "columns", column) }];
  if (sheet.active === JSON.stringify(gone))
    operations.push({ op: "replace", path: pointer("sheets", id, "active"), value: JSON.stringify(left[0]?.[1].name) });
  edit(`Remove the column ${gone}`, operations);
}

/** Makes a column the active one. */
export const activate = (id: string, name: string) =>
  edit(`Take ${name}`, [{ op: "replace", path: pointer("sheets", id, "active"), value: JSON.stringify(name) }]);

/** Moves values to a sheet: the one named, or a new one. */
export async function moveToSheet(
  what: { parts?: string[]; parameter?: string; parameters?: string[] },
  sheet: string | null = lastSheet(),
): Promise<void> {
  const made = await restructure({
    kind: "moveToSheet",
    sheet,
    name: null,
    parts: what.parts ?? [],
    parameter: what.parameter ?? null,
    parameters: what.parameters ?? [],
  });
  if (!made) return;
  const now = sheet ?? Object.keys(present().model.sheets ?? {}).pop();
  if (now) offer(`Moved to ${sheetOf(now)?.name ?? "the sheet"}.`, "Open the sheet", () => openSheet(now));
}

/** The sheet that was opened last, else the first one; null where there is none. */
const lastSheet = (): string | null => {
  const ids = Object.keys(present().model.sheets ?? {});
  const open = present().openSheet;
  return open && ids.includes(open) ? open : (ids[0] ?? null);
};
