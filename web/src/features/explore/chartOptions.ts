import type { EChartsCoreOption } from "echarts/core";
import type { Schemas } from "../../api/client";
import { columnsOf, misses, readerOf, TONES, type ColumnChoice } from "../../state/studyColumns";
import type { Results, Row } from "../../state/studies";
import type { Chart } from "../../state/studyEdits";
import { format } from "../../ui/format";
import { tokens } from "../../ui/tokens";

type Answer = Schemas["StudyChart"];

/** What charts show: the runs, and what is picked or left out of them. */
export interface Content {
  results: Results;
  picks: ReadonlySet<number>;
  without: ReadonlySet<number>;
  answer: Answer | null;
}

const DOT = "#9db8cb";
const BAR = "#6f93ae";
const FONT = '"IBM Plex Sans", sans-serif';
const MONO = '"IBM Plex Mono", monospace';

const column = (r: Results, key: string): ColumnChoice =>
  columnsOf(r).find((c) => c.key === key) ?? { key, label: key ? "a column that is gone" : "–", unit: "" };

const named = (c: ColumnChoice) => (c.unit ? `${c.label}, ${c.unit}` : c.label);

/** What a chart is called, and what is told below it. */
export function chartTitle(r: Results, chart: Chart): string {
  const [x, y] = [column(r, chart.x).label, column(r, chart.y).label];
  switch (chart.kind) {
    case "histogram":
      return `Spread of ${x}`;
    case "box":
    case "scatter":
      return `${y} over ${x}`;
    case "map":
      return `${column(r, chart.z ?? "").label} over ${x} and ${y}`;
    case "matrix":
      return "Every column over every other";
    case "parallel":
      return "All columns side by side";
    case "tornado":
      return `What ${y} reaches with each factor`;
    default:
      return `What ${y} goes with`;
  }
}

export function chartFoot(chart: Chart, answer: Answer | null): string {
  if (answer?.problem) return answer.problem;
  switch (chart.kind) {
    case "scatter":
      return answer && answer.course.length > 0
        ? `${answer.law ?? "smooth"}${answer.determination == null ? "" : `, R² ${format(Number(answer.determination), 3)}`}; band: 95 %`
        : "";
    case "histogram":
      return answer?.spread
        ? `mean ${format(Number(answer.spread.mean), 4)}, deviation ${format(Number(answer.spread.deviation), 3)}, ${answer.spread.count} runs`
        : "";
    case "weights":
    case "tornado":
      return answer?.explained == null ? "" : `a straight law explains ${format(100 * Number(answer.explained), 3)} %`;
    default:
      return "";
  }
}

const axis = (name: string, more: object = {}) => ({
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
const upright = (name: string, more: object = {}) =>
  axis(name, {
    nameLocation: "end",
    nameGap: 8,
    nameTextStyle: { color: tokens.quiet, fontFamily: FONT, fontSize: 11, align: "left" },
    ...more,
  });

const base = { animation: false, textStyle: { fontFamily: FONT } };
const grid = { left: 54, right: 14, top: 24, bottom: 40 };

const shown = ({ results, without }: Content): Row[] =>
  results.rows.filter((r): r is Row => r !== undefined && !r.isFailed && !without.has(Number(r.row)));

/** What a chart is drawn from; null where there is nothing to draw. */
export function chartOptions(chart: Chart, content: Content): EChartsCoreOption | null {
  const rows = shown(content);
  if (rows.length === 0) return null;
  switch (chart.kind) {
    case "scatter":
      return scatter(chart, content, rows);
    case "histogram":
      return histogram(chart, content);
    case "box":
      return boxes(chart, content);
    case "map":
      return map(chart, content);
    case "matrix":
      return matrix(chart, content, rows);
    case "parallel":
      return parallel(chart, content, rows);
    default:
      return weights(chart, content);
  }
}

/** Points of two columns: value, value, row. */
function points(results: Results, x: string, y: string, rows: readonly Row[]): [number, number, number][] {
  const [on, of] = [readerOf(results, x), readerOf(results, y)];
  return rows.flatMap((r): [number, number, number][] => {
    const [a, b] = [on(r), of(r)];
    return a === null || b === null ? [] : [[a, b, Number(r.row)]];
  });
}

function dots(results: Results, x: string, y: string, rows: readonly Row[], chosen: ReadonlySet<number>, more: object = {}) {
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

function scatter(chart: Chart, { results, picks, answer }: Content, rows: readonly Row[]): EChartsCoreOption {
  const course = answer?.course ?? [];
  const band = course.map((p) => [Number(p.x), Number(p.low), Number(p.high)]);
  const fit =
    course.length === 0
      ? []
      : [
          {
            type: "custom",
            name: "band",
            silent: true,
            z: 0,
            clip: true,
            encode: { x: 0, y: [1, 2] },
            data: [[band[0]?.[0] ?? 0, Math.min(...band.map((b) => b[1] as number)), Math.max(...band.map((b) => b[2] as number))]],
            renderItem: (_: unknown, api: { coord: (v: number[]) => number[] }) => ({
              type: "polygon",
              shape: {
                points: [
                  ...band.map((b) => api.coord([b[0] as number, b[2] as number])),
                  ...[...band].reverse().map((b) => api.coord([b[0] as number, b[1] as number])),
                ],
              },
              style: { fill: tokens.shade, opacity: 0.55 },
            }),
          },
          {
            type: "line",
            name: "fit",
            silent: true,
            showSymbol: false,
            lineStyle: { color: tokens.ink, width: 1.8 },
            data: course.map((p) => [Number(p.x), Number(p.y)]),
          },
        ];
  const line = chart.y.startsWith("margin:")
    ? [
        {
          type: "line",
          data: [],
          markLine: {
            silent: true,
            symbol: "none",
            lineStyle: { color: tokens.missed, type: "solid" },
            label: { formatter: "missed below", position: "insideStartBottom", color: tokens.missed, fontSize: 10.5 },
            data: [{ yAxis: 0 }],
          },
        },
      ]
    : [];
  return {
    ...base,
    grid,
    tooltip: {
      trigger: "item",
      formatter: (p: { data: number[] }) =>
        `run ${Number(p.data[2]) + 1}: ${format(Number(p.data[0]), 5)}, ${format(Number(p.data[1]), 5)}`,
    },
    brush: { xAxisIndex: 0, yAxisIndex: 0, brushStyle: { color: "rgba(217,72,28,.08)", borderColor: tokens.buoy }, outOfBrush: {} },
    xAxis: axis(named(column(results, chart.x))),
    yAxis: upright(named(column(results, chart.y))),
    series: [...fit, ...dots(results, chart.x, chart.y, rows, picks), ...line],
  };
}

function histogram(chart: Chart, { results, answer }: Content): EChartsCoreOption | null {
  const s = answer?.spread;
  if (!s) return null;
  const [edges, counts] = [s.edges.map(Number), s.counts.map(Number)];
  const total = counts.reduce((a, b) => a + b, 0);
  let sum = 0;
  const cumulative = edges.map((e, i) => [e, i === 0 ? 0 : (100 * (sum += counts[i - 1] as number)) / total]);
  const bars = counts.map((c, i) => [edges[i] as number, edges[i + 1] ?? (edges[i] as number), (100 * c) / total]);
  const alone = edges[0] === edges.at(-1);
  return {
    ...base,
    grid: { ...grid, right: 38 },
    tooltip: { trigger: "item" },
    xAxis: axis(named(column(results, chart.x)), alone ? {} : { min: edges[0], max: edges.at(-1) }),
    yAxis: [
      upright("% of runs", { min: 0 }),
      axis("", { position: "right", min: 0, max: 100, splitLine: { show: false }, axisLine: { show: false } }),
    ],
    series: [
      {
        type: "custom",
        name: "share",
        encode: { x: [0, 1], y: 2 },
        data: bars,
        renderItem: (_: unknown, api: { value: (i: number) => number; coord: (v: number[]) => [number, number] }) => {
          const [x0, y0] = api.coord([api.value(0), api.value(2)]);
          const [x1, y1] = api.coord([api.value(1), 0]);
          return {
            type: "rect",
            shape: { x: x0 + 0.5, y: y0, width: Math.max(2, x1 - x0 - 1), height: y1 - y0 },
            style: { fill: BAR },
          };
        },
      },
      {
        type: "line",
        name: "cumulative",
        yAxisIndex: 1,
        showSymbol: false,
        lineStyle: { color: tokens.ink, width: 1.4 },
        data: alone ? [] : cumulative,
      },
    ],
  };
}

function boxes(chart: Chart, { results, answer }: Content): EChartsCoreOption | null {
  const all = answer?.boxes ?? [];
  if (all.length === 0) return null;
  return {
    ...base,
    grid,
    tooltip: { trigger: "item" },
    xAxis: {
      ...axis(named(column(results, chart.x)), { type: "category", data: all.map((b) => b.label) }),
      axisLabel: { color: tokens.quiet, fontFamily: MONO, fontSize: 10.5, hideOverlap: true },
    },
    yAxis: upright(named(column(results, chart.y))),
    series: [
      {
        type: "boxplot",
        itemStyle: { color: "#dfe8ee", borderColor: tokens.ink },
        data: all.map((b) => [b.spread.low, b.spread.quarter, b.spread.median, b.spread.threeQuarters, b.spread.high].map(Number)),
      },
    ],
  };
}

function map(chart: Chart, { results, answer }: Content): EChartsCoreOption | null {
  const cells = answer?.cells ?? [];
  if (cells.length === 0) return null;
  const sorted = (of: (c: (typeof cells)[number]) => number) => [...new Set(cells.map(of))].sort((a, b) => a - b);
  const [xs, ys] = [sorted((c) => Number(c.x)), sorted((c) => Number(c.y))];
  const values = cells.map((c) => Number(c.value));
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const unit = column(results, chart.z ?? "").unit;
  // Values that form no grid stand as points where they are.
  const isGrid = xs.length * ys.length <= 4 * cells.length;
  const tone = {
    min: low,
    max: high > low ? high : low + 1,
    dimension: 2,
    orient: "vertical",
    right: 2,
    top: 18,
    itemHeight: 90,
    itemWidth: 8,
    text: [`${format(high, 3)} ${unit}`, format(low, 3)],
    textStyle: { color: tokens.quiet, fontSize: 10.5 },
    inRange: { color: [...TONES] },
    calculable: false,
  };
  const category = (name: string, of: number[], make: typeof axis) =>
    make(name, {
      type: "category",
      data: of.map((v) => format(v, 4)),
      splitLine: { show: false },
      axisLabel: { color: tokens.quiet, fontSize: 10.5 },
    });
  return {
    ...base,
    grid: { ...grid, right: 66 },
    tooltip: { trigger: "item" },
    visualMap: tone,
    xAxis: isGrid ? category(named(column(results, chart.x)), xs, axis) : axis(named(column(results, chart.x))),
    yAxis: isGrid ? category(named(column(results, chart.y)), ys, upright) : upright(named(column(results, chart.y))),
    series: [
      isGrid
        ? { type: "heatmap", data: cells.map((c) => [xs.indexOf(Number(c.x)), ys.indexOf(Number(c.y)), Number(c.value)]) }
        : { type: "scatter", symbolSize: 9, data: cells.map((c) => [Number(c.x), Number(c.y), Number(c.value)]) },
    ],
  };
}

/** Columns of a chart of many: the chosen ones, else the numeric factors and the first measures. */
export function manyColumns(chart: Chart, r: Results, most: number): ColumnChoice[] {
  const all = columnsOf(r);
  const chosen = chart.columns.map((k) => all.find((c) => c.key === k)).filter((c): c is ColumnChoice => c !== undefined);
  if (chosen.length > 0) return chosen.slice(0, most);
  const numeric = all.filter((c) => c.key.startsWith("factor:") && r.rows.every((row) => !row || readerOf(r, c.key)(row) !== null));
  const measures = all.filter((c) => c.key.startsWith("measure:"));
  return [...numeric.slice(0, Math.max(1, most - Math.min(2, measures.length))), ...measures].slice(0, most);
}

function matrix(chart: Chart, { results, picks }: Content, rows: readonly Row[]): EChartsCoreOption {
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

function parallel(chart: Chart, { results, picks }: Content, rows: readonly Row[]): EChartsCoreOption {
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

function weights(chart: Chart, { results, answer }: Content): EChartsCoreOption | null {
  const all = (answer?.weights ?? []).filter((w) => (chart.kind === "tornado" ? w.low != null : w.rank != null || w.share != null));
  if (all.length === 0) return null;
  const shares = chart.kind === "weights" && all.every((w) => w.share != null);
  const size = (w: (typeof all)[number]) =>
    chart.kind === "tornado" ? Math.abs(Number(w.high) - Number(w.low)) : shares ? Number(w.share?.total) : Math.abs(Number(w.rank));
  const sorted = [...all].sort((a, b) => size(a) - size(b)).slice(-12);
  const names = sorted.map((w) => w.label);
  const value = axis(
    chart.kind === "tornado" ? named(column(results, chart.y)) : shares ? "share of variance: alone, and with others" : "rank correlation",
    chart.kind === "tornado" ? {} : shares ? { min: 0 } : { min: -1, max: 1 },
  );
  const common = {
    ...base,
    grid: { left: 8, right: 20, top: 8, bottom: 38, containLabel: true },
    tooltip: { trigger: "item" },
    xAxis: value,
    yAxis: {
      type: "category",
      data: names,
      axisTick: { show: false },
      axisLine: { show: false },
      axisLabel: { color: tokens.ink, fontFamily: FONT, fontSize: 11.5, width: 130, overflow: "truncate" },
    },
  };
  if (chart.kind === "tornado") {
    return {
      ...common,
      series: [
        {
          type: "custom",
          encode: { x: [1, 2], y: 0 },
          data: sorted.map((w, i) => [i, Number(w.low), Number(w.high)]),
          renderItem: (_: unknown, api: { value: (i: number) => number; coord: (v: number[]) => [number, number] }) => {
            const [x0, y] = api.coord([api.value(1), api.value(0)]);
            const [x1] = api.coord([api.value(2), api.value(0)]);
            return {
              type: "rect",
              shape: { x: Math.min(x0, x1), y: y - 7, width: Math.max(1, Math.abs(x1 - x0)), height: 14 },
              style: { fill: x1 >= x0 ? "#2f537a" : DOT },
            };
          },
        },
      ],
    };
  }
  if (shares)
    return {
      ...common,
      series: [
        bars(
          "alone",
          sorted.map((w) => Number(w.share?.first)),
          "#2f537a",
        ),
        bars(
          "with others",
          sorted.map((w) => Number(w.share?.total)),
          DOT,
        ),
        spread(
          sorted.map((w, i) => [
            i,
            Number(w.share?.first) - Number(w.share?.firstError),
            Number(w.share?.first) + Number(w.share?.firstError),
          ]),
        ),
      ],
    };
  return {
    ...common,
    series: [
      bars(
        "rank",
        sorted.map((w) => Number(w.rank)),
        (v) => (v >= 0 ? "#2f537a" : DOT),
      ),
    ],
  };
}

const bars = (name: string, values: readonly number[], color: string | ((v: number) => string)) => ({
  type: "bar",
  name,
  barMaxWidth: 14,
  itemStyle: { color: typeof color === "string" ? color : (p: { value: number }) => color(p.value) },
  label: {
    show: name === "rank",
    position: "right",
    fontFamily: MONO,
    fontSize: 10.5,
    color: tokens.ink,
    formatter: (p: { value: number }) => format(p.value, 2),
  },
  data: [...values],
});

/** Error bars of shares. */
const spread = (data: number[][]) => ({
  type: "custom",
  silent: true,
  z: 6,
  encode: { x: [1, 2], y: 0 },
  data,
  renderItem: (_: unknown, api: { value: (i: number) => number; coord: (v: number[]) => [number, number] }) => {
    const [x0, y] = api.coord([api.value(1), api.value(0)]);
    const [x1] = api.coord([api.value(2), api.value(0)]);
    return { type: "line", shape: { x1: x0, y1: y - 4, x2: x1, y2: y - 4 }, style: { stroke: tokens.buoy, lineWidth: 1.4 } };
  },
});
