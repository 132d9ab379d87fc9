/** Saves rows as a file of comma-separated values. */
export function saveTable(name: string, rows: readonly (readonly (string | number)[])[]): void {
  const text = rows.map((r) => r.map(String).join(",")).join("\n") + "\n";
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type: "text/csv" }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
