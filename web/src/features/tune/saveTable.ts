/** Saves a text as a file. */
export function saveFile(name: string, text: string, type = "application/json"): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}

/** A field of comma-separated values (RFC 4180). */
export const csvField = (v: string | number): string => (/[",\n]/.test(String(v)) ? `"${String(v).replaceAll('"', '""')}"` : String(v));

/** Saves rows as a file of comma-separated values. */
export const saveTable = (name: string, rows: readonly (readonly (string | number)[])[]): void =>
  saveFile(name, rows.map((r) => r.map(csvField).join(",")).join("\n") + "\n", "text/csv");
