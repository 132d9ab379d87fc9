import type { Schemas } from "../../api/client";
import { columnsOf, misses, readerOf, type ColumnChoice } from "../../state/studyColumns";
import type { Results, Row } from "../../state/studies";
import { format } from "../../ui/format";
import { tokens } from "../../ui/tokens";

/** What all charts of a study are made of: their content, axes and points. */

export type Answer = Schemas["StudyChart"];

/** What charts show: the runs, and what is picked or left out of them. */
export interface Content {
  results: Results;
  picks: ReadonlySet<number>;
  without: ReadonlySet<number>;
  answer: Answer | null;
}

/** The column of what a search makes least. */
export const GOAL = "measure:goal";

export const DOT = "#9db8cb";
export const BAR = "#6f93ae";
export const FONT = '"IBM Plex Sans", sans-serif';
export const MONO = '"IBM Plex Mono", monospace';

export const column = (r: Results, key: string): ColumnChoice =>
  columnsOf(r).find((c) => c.key === key) ?? { key, label: key ? "a column that is gone" : "–", unit: "" };

export const named = (c: ColumnChoice) => (c.unit ? `${c.label}, ${c.unit}` : c.label);
export const axis = (name: string, more: object = {}) => ({
  type: "value",
  scale: true,
  name,
  nameLocation: "middle",
  nameGap: 24,
  nameTextStyle: { color: tokens.quiet, fontFamily: FONT, fontSize: 11 },
  axisLine: { show: true, lineStyle: { color: tokens.dashes } },
  axisTick: { show: false },
  axisLabel: { color: tokens.quiet, fontFamily: MONO, fontSize: 10.5, hideOverlap: true, formatter: (v: number) => format(v, 4) },
  splitLine: { lineStyle: { color: tokens.hair } },
  ...more,
});

/** The axis at the left, its name written above it. */
export const upright = (name: string, more: object = {}) =>
  axis(name, {
    nameLocation: "end",
    nameGap: 8,
    nameTextStyle: { color: tokens.quiet, fontFamily: FONT, fontSize: 11, align: "left" },
    ...more,
  });

export const base = { animation: false, textStyle: { fontFamily: FONT } };
export const grid = { left: 54, right: 14, top: 24, bottom: 40 };
/** Points of two columns: value, value, row. */
export function points(results: Results, x: string, y: string, rows: readonly Row[]): [number, number, number][] {
  const [on, of] = [readerOf(results, x), readerOf(results, y)];
  return rows.flatMap((r): [number, number, number][] => {
    const [a, b] = [on(r), of(r)];
    return a === null || b === null ? [] : [[a, b, Number(r.row)]];
  });
}

export function dots(results: Results, x: string, y: string, rows: readonly Row[], chosen: ReadonlySet<number>, more: object = {}) {
  // What a search has found is seen without being picked.
  const picks = chosen.size === 0 && results.best !== null ? new Set([results.best]) : chosen;
  const all = points(results, x, y, rows);
  const missed = new Set(rows.filter(misses).map((r) => Number(r.row)));
  const size = all.length > 3000 ? 2.4 : all.length > 300 ? 3.6 : 6;
  return [
    {
      type: "scatter",
      name: "runs",
      symbolSize: size,
      large: all.length > 20_000,
      itemStyle: { color: DOT },
      data: all.filter(([, , r]) => !picks.has(r) && !missed.has(r)),
      ...more,
    },
    {
      type: "scatter",
      name: "missed",
      symbol: "emptyCircle",
      symbolSize: size + 0.6,
      itemStyle: { color: tokens.missed },
      data: all.filter(([, , r]) => !picks.has(r) && missed.has(r)),
      ...more,
    },
    {
      type: "scatter",
      name: "picked",
      z: 5,
      symbolSize: size + 2.5,
      itemStyle: { color: tokens.buoy },
      data: all.filter(([, , r]) => picks.has(r)),
      ...more,
    },
  ];
}
