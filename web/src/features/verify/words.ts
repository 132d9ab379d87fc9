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
  return format(margin, 2).replace(/^(−?)0\./, "$1.");
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
