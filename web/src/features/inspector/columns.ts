/**
 * The numbers of a table as a spreadsheet or a CSV file gives it, column by column. Lines without numbers, such as headings, are left out.
 * With semicolons between the columns a comma is a decimal sign.
 */
export function columnsOf(text: string): string[][] {
  const semicolons = text.includes(";");
  const rows = text
    .split(/\r?\n/)
    .map((line) =>
      line
        .trim()
        .split(semicolons ? /\s*;\s*/ : /\s*,\s*|\s+/)
        .map((cell) => (semicolons ? cell.replace(",", ".") : cell)),
    )
    .filter((cells) => cells.length > 0 && cells.every((c) => c !== "" && Number.isFinite(Number(c))));
  const width = Math.min(...rows.map((r) => r.length));
  return rows.length === 0 ? [] : Array.from({ length: width }, (_, i) => rows.map((r) => r[i] as string));
}

/** A column as an array of the equation language. */
export const arrayOf = (column: readonly string[]) => `{${column.join(", ")}}`;
