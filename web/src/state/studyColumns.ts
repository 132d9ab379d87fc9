import type { Results, Row } from "./studies";

/** Columns of a study's results as charts and tables name them. */
export interface ColumnChoice {
  key: string;
  label: string;
  unit: string;
}

export const RUN: ColumnChoice = { key: "run", label: "run number", unit: "" };

export function columnsOf(r: Pick<Results, "factors" | "measures" | "requirements">): ColumnChoice[] {
  return [
    ...r.factors.map((c) => ({ key: `factor:${c.id}`, label: c.name, unit: c.unit })),
    ...r.measures.map((c) => ({ key: `measure:${c.id}`, label: c.name, unit: c.unit })),
    ...r.requirements.map((c) => ({ key: `margin:${c.id}`, label: `${c.name}, margin`, unit: "" })),
    RUN,
  ];
}

/** Reads a column of rows; null where a row has no number there. */
export function readerOf(r: Pick<Results, "factors" | "measures" | "requirements">, key: string): (row: Row) => number | null {
  const [kind, ...rest] = key.split(":");
  const id = rest.join(":");
  const number = (v: number | string | null | undefined) => (v == null ? null : Number(v));
  const place = (of: readonly { id: string }[]) => of.findIndex((c) => c.id === id);
  switch (kind) {
    case "factor": {
      const i = place(r.factors);
      return (row) => number(row.numbers[i]);
    }
    case "measure": {
      const i = place(r.measures);
      return (row) => number(row.measures[i]);
    }
    case "margin": {
      const i = place(r.requirements);
      return (row) => number(row.margins[i]);
    }
    default:
      return (row) => Number(row.row) + 1;
  }
}

/** Whether a row misses a requirement. */
export const misses = (row: Row): boolean => row.met.some((m) => m === false);

/** Tones of the run strip, from little to much. */
export const TONES = ["#d5e2eb", "#b9cddd", "#9ab7cb", "#6f93ae", "#4a6f92", "#2f537a", "#17324d"] as const;

/** The tone of a value between two. */
export function toneOf(value: number | null, low: number, high: number): string {
  if (value === null || !Number.isFinite(value)) return "#ffffff";
  const share = high > low ? (value - low) / (high - low) : 0.5;
  return TONES[Math.min(TONES.length - 1, Math.max(0, Math.floor(share * TONES.length)))] as string;
}

/** Lowest and highest value of a column. */
export function spanOf(rows: readonly (Row | undefined)[], of: (row: Row) => number | null): [number, number] {
  let [low, high] = [Infinity, -Infinity];
  for (const row of rows) {
    const value = row && !row.isFailed ? of(row) : null;
    if (value === null) continue;
    if (value < low) low = value;
    if (value > high) high = value;
  }
  return low <= high ? [low, high] : [0, 0];
}
