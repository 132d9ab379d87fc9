import type { Operation } from "../../state/document";
import { newId, pointer } from "../../state/document";
import type { Row, Sheet } from "../../state/sheets";

/** A sheet as a grid of cells: what each shows, and what typing or pasting comes to. Nothing here knows of the screen. */

export type Field = "name" | "unit" | "minimum" | "maximum" | "group" | "description";

export interface GridColumn {
  key: string;
  head: string;
  /** The field of a row, or a column of values by its id. */
  field: Field | { value: string };
}

export interface Cell {
  row: number;
  column: number;
}

export const columnsOf = (sheet: Sheet): GridColumn[] => [
  { key: "name", head: "Name", field: "name" },
  ...Object.entries(sheet.columns).map(([id, c]) => ({ key: `v-${id}`, head: c.name, field: { value: id } })),
  { key: "unit", head: "Unit", field: "unit" },
  { key: "minimum", head: "At least", field: "minimum" },
  { key: "maximum", head: "At most", field: "maximum" },
  { key: "group", head: "Group", field: "group" },
  { key: "description", head: "Description", field: "description" },
];

export const textOf = (row: Row | undefined, { field }: GridColumn): string =>
  (typeof field === "string" ? row?.[field] : row?.values[field.value]) ?? "";

/** The rows that answer a search, as ids. */
export function rowsFor(sheet: Sheet, search: string): string[] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return Object.keys(sheet.rows);
  return Object.entries(sheet.rows)
    .filter(([, r]) => {
      const all = `${r.name} ${r.group ?? ""} ${r.description ?? ""}`.toLowerCase();
      return words.every((w) => all.includes(w));
    })
    .map(([id]) => id);
}

/** Operations that set one cell of a row that is there; the name follows everywhere, so it is no matter of one cell. */
export function setCell(sheet: string, row: string, { field }: GridColumn, text: string, before: string): Operation[] {
  if (text === before || field === "name") return [];
  const path =
    typeof field === "string" ? pointer("sheets", sheet, "rows", row, field) : pointer("sheets", sheet, "rows", row, "values", field.value);
  return text === "" ? (before === "" ? [] : [{ op: "remove", path }]) : [{ op: "add", path, value: text }];
}

export const newRow = (sheet: string, name: string, rest: Partial<Row> = {}): Operation => ({
  op: "add",
  path: pointer("sheets", sheet, "rows", newId("r")),
  value: { ...rest, name, values: rest.values ?? {} },
});

/** Cells as they are copied from a spreadsheet: lines of texts with tabs between; quoted ones may hold either. */
export function parseCells(text: string): string[][] {
  const rows: string[][] = [[]];
  let cell = "";
  let quoted = false;
  const put = () => ((rows[rows.length - 1] as string[]).push(cell.trim()), (cell = ""));
  for (let i = 0; i < text.length; i++) {
    const c = text[i] as string;
    if (quoted) {
      if (c === '"' && text[i + 1] === '"') {
        cell += '"';
        i++;
      } else if (c === '"') quoted = false;
      else cell += c;
    } else if (c === '"' && cell === "") quoted = true;
    else if (c === "\t") put();
    else if (c === "\n") {
      put();
      rows.push([]);
    } else if (c !== "\r") cell += c;
  }
  put();
  const last = rows[rows.length - 1] as string[];
  if (rows.length > 1 && last.length === 1 && last[0] === "") rows.pop();
  return rows;
}

const isName = (text: string) => /^[A-Za-z_]\w*$/.test(text);

/** What pasting cells at a place comes to: values of rows that are there, and new rows below the last where they have a name. */
export function pasteOperations(
  id: string,
  sheet: Sheet,
  rows: readonly string[],
  at: Cell,
  cells: readonly (readonly string[])[],
): Operation[] {
  const columns = columnsOf(sheet);
  const operations: Operation[] = [];
  for (const [i, line] of cells.entries()) {
    const row = rows[at.row + i];
    const fields = line.flatMap((text, k) => {
      const column = columns[at.column + k];
      return column ? [{ column, text }] : [];
    });
    if (row !== undefined) {
      for (const { column, text } of fields) operations.push(...setCell(id, row, column, text, textOf(sheet.rows[row], column)));
      continue;
    }
    const name = fields.find((f) => f.column.field === "name")?.text ?? "";
    if (!isName(name)) continue;
    const made: Partial<Row> & { values: Record<string, string> } = { values: {} };
    for (const { column, text } of fields)
      if (text !== "" && column.field !== "name") {
        if (typeof column.field === "string") made[column.field] = text;
        else made.values[column.field.value] = text;
      }
    operations.push(newRow(id, name, made));
  }
  return operations;
}

/** The cells between two corners as a spreadsheet takes them. */
export function copyText(sheet: Sheet, rows: readonly string[], a: Cell, b: Cell): string {
  const columns = columnsOf(sheet).slice(Math.min(a.column, b.column), Math.max(a.column, b.column) + 1);
  return rows
    .slice(Math.min(a.row, b.row), Math.max(a.row, b.row) + 1)
    .map((id) => columns.map((c) => textOf(sheet.rows[id], c)).join("\t"))
    .join("\n");
}

/** Where a key leads from a cell; null for keys that do not move. */
export function moved(at: Cell, key: string, rows: number, columns: number, page: number): Cell | null {
  const steps: Record<string, [number, number]> = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
    PageUp: [-page, 0],
    PageDown: [page, 0],
    Home: [0, -columns],
    End: [0, columns],
  };
  const step = steps[key];
  if (!step) return null;
  const within = (v: number, most: number) => Math.max(0, Math.min(most, v));
  return { row: within(at.row + step[0], rows - 1), column: within(at.column + step[1], columns - 1) };
}
