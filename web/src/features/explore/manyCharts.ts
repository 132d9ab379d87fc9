import type { EChartsCoreOption } from "echarts/core";
import { columnsOf, readerOf, type ColumnChoice } from "../../state/studyColumns";
import type { Results, Row } from "../../state/studies";
import type { Chart } from "../../state/studyEdits";
import { format } from "../../ui/format";
import { tokens } from "../../ui/tokens";
import { axis, BAR, base, dots, named, type Content } from "./chartParts";

/** Charts of many columns at once. */

/** Columns of a chart of many: the chosen ones, else the numeric factors and the first measures. */
export function manyColumns(chart: Chart, r: Results, most: number): ColumnChoice[] {
  const all = columnsOf(r);
  const chosen = chart.columns.map((k) => all.find((c) => c.key === k)).filter((c): c is ColumnChoice => c !== undefined);
  if (chosen.length > 0) return chosen.slice(0, most);
  const numeric = all.filter((c) => c.key.startsWith("factor:") && r.rows.every((row) => !row || readerOf(r, c.key)(row) !== null));
  const measures = all.filter((c) => c.key.startsWith("measure:"));
  return [...numeric.slice(0, Math.max(1, most - Math.min(2, measures.length))), ...measures].slice(0, most);
}
export function matrix(chart: Chart, { results, picks }: Content, rows: readonly Row[]): EChartsCoreOption {
  const columns = manyColumns(chart, results, 5);
  const n = columns.length;
  const grids: object[] = [];
  const xs: object[] = [];
  const ys: object[] = [];
  const series: object[] = [];
  const quiet = { axisLabel: { show: false }, axisTick: { show: false }, splitLine: { show: false } };
  for (let i = 0; i < n; i++)
    for (let k = 0; k < n; k++) {
      const place = grids.length;
      const [a, b] = [columns[k] as ColumnChoice, columns[i] as ColumnChoice];
      grids.push({
        left: `${8 + (90 * k) / n}%`,
        top: `${3 + (88 * i) / n}%`,
        width: `${84 / n}%`,
        height: `${80 / n}%`,
        show: true,
        borderColor: tokens.hair,
      });
      xs.push(axis(i === n - 1 ? a.label : "", { gridIndex: place, nameGap: 6, ...quiet }));
      ys.push(axis(k === 0 ? b.label : "", { gridIndex: place, nameGap: 6, ...quiet }));
      if (i !== k) series.push(...dots(results, a.key, b.key, rows, picks, { xAxisIndex: place, yAxisIndex: place, symbolSize: 3 }));
    }
  return { ...base, grid: grids, xAxis: xs, yAxis: ys, series };
}

export function parallel(chart: Chart, { results, picks }: Content, rows: readonly Row[]): EChartsCoreOption {
  const columns = manyColumns(chart, results, 10);
  const readers = columns.map((c) => readerOf(results, c.key));
  const line = (r: Row) => readers.map((read) => read(r) ?? "-");
  const some = rows.length > 2000 ? rows.filter((r, i) => i % Math.ceil(rows.length / 2000) === 0 || picks.has(Number(r.row))) : rows;
  const style = (color: string, opacity: number, width = 1) => ({ color, opacity, width });
  return {
    ...base,
    parallel: { left: 40, right: 50, top: 34, bottom: 22 },
    parallelAxis: columns.map((c, dim) => ({
      dim,
      scale: true,
      name: named(c).length > 18 ? `${named(c).slice(0, 17)}…` : named(c),
      nameTextStyle: { color: tokens.quiet, fontSize: 10.5 },
      axisLabel: { color: tokens.quiet, fontSize: 10, formatter: (v: number) => format(v, 3) },
      axisLine: { lineStyle: { color: tokens.edge } },
      splitLine: { show: false },
    })),
    series: [
      {
        type: "parallel",
        name: "runs",
        silent: true,
        lineStyle: style(BAR, some.length > 300 ? 0.12 : 0.4),
        data: some.filter((r) => !picks.has(Number(r.row))).map(line),
      },
      {
        type: "parallel",
        name: "picked",
        silent: true,
        z: 4,
        lineStyle: style(tokens.buoy, 0.9, 1.6),
        data: some.filter((r) => picks.has(Number(r.row))).map(line),
      },
    ],
  };
}
