import { download } from "../../api/download";

/** Saves a text as a file. */
export function saveFile(name: string, text: string, type = "application/json"): void {
  download(new Blob([text], { type }), name);
}

/** A field of comma-separated values (RFC 4180). */
export const csvField = (v: string | number): string => (/[",\n]/.test(String(v)) ? `"${String(v).replaceAll('"', '""')}"` : String(v));

/** Saves rows as a file of comma-separated values. */
export const saveTable = (name: string, rows: readonly (readonly (string | number)[])[]): void =>
  saveFile(name, rows.map((r) => r.map(csvField).join(",")).join("\n") + "\n", "text/csv");
