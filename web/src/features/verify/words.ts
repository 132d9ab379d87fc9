import type { Schemas } from "../../api/client";
import type { CaseRow } from "../../state/cases";
import { format } from "../../ui/format";

/** A margin in two digits: as much as a narrow cell holds. */
export function short(margin: number | null | undefined): string {
  if (margin == null) return "";
  const size = Math.abs(margin);
  if (size === 0) return "0";
  if (size >= 1000) return `${margin < 0 ? "−" : ""}${Math.round(size / 1000)}k`;
  if (size < 0.01) return margin < 0 ? "−0.0" : "0.0";
  return format(margin, size < 0.1 ? 1 : 2).replace(/^(−?)0\./, "$1.");
}

/** Units of which people use thousandths. */
const divided = new Set(["m", "s", "m/s", "m/s2", "N", "V", "A", "W", "K", "rad", "rad/s", "Pa", "bar", "J", "g", "l"]);

/** The unit in which a line of margins is read best, and how many of it one of their own unit has. */
export function scaleOf(cells: readonly (Schemas["CaseCell"] | undefined)[]): { factor: number; unit: string } {
  const unit = cells.find((c) => c?.margin != null)?.unit ?? "";
  const most = Math.max(0, ...cells.map((c) => Math.abs(Number(c?.margin ?? 0))));
  const isOne = cells.every((c) => c?.margin == null || c.unit === unit);
  if (!isOne || most === 0 || most >= 1) return { factor: 1, unit };
  return divided.has(unit) ? { factor: 1000, unit: `m${unit}` } : unit === "" ? { factor: 100, unit: "%" } : { factor: 1, unit };
}

/** What came of a case, in a word. */
export const outcomeOf = (row: Pick<CaseRow, "outcome"> | undefined): string =>
  row?.outcome == null ? "not run" : { passed: "passed", failed: "failed", open: "open", broken: "did not run" }[row.outcome];

/** Of a cell, for who does not see its colour. */
export function toldCell(requirement: string, name: string, cell: Schemas["CaseCell"] | undefined): string {
  if (!cell) return `${requirement}, ${name}: does not apply`;
  const by = cell.margin == null ? "" : ` by ${format(Math.abs(Number(cell.margin)), 3)} ${cell.unit}`.trimEnd();
  const stale = cell.isStale ? ", out of date" : "";
  return `${requirement}, ${name}: ${cell.kind}${cell.kind === "open" ? "" : by}${cell.isNarrow ? ", narrowly" : ""}${stale}`;
}
