import type { EChartsCoreOption } from "echarts/core";
import type { Row, Results } from "../../state/studies";
import { TONES } from "../../state/studyColumns";
import type { Chart } from "../../state/studyEdits";
import { format } from "../../ui/format";
import { tokens } from "../../ui/tokens";
import { axis, BAR, base, column, dots, GOAL, grid, MONO, named, upright, type Answer, type Content } from "./chartParts";
import { matrix, parallel } from "./manyCharts";
import { weights } from "./weightCharts";

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
function scatter(chart: Chart, { results, picks, answer }: Content, rows: readonly Row[]): EChartsCoreOption {
  const law = answer?.course ?? [];
  const band = law.map((p) => [Number(p.x), Number(p.low), Number(p.high)]);
  const fit =
    law.length === 0
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
            data: law.map((p) => [Number(p.x), Number(p.y)]),
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
  // Over the number of the run a search shows how it came to its best.
  const course =
    chart.x === "run" && chart.y === GOAL && results.improved.length > 0
      ? [
          {
            type: "line",
            name: "best so far",
            step: "end",
            silent: true,
            showSymbol: false,
            lineStyle: { color: tokens.ink, width: 1.6 },
            data: [...results.improved.map(([row, value]) => [row + 1, value]), [results.rows.length, results.improved.at(-1)?.[1]]],
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
    series: [...fit, ...dots(results, chart.x, chart.y, rows, picks), ...line, ...course],
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

/** Lines of one value over the cells of a map, each with its value at its middle. */
function contours(lines: NonNullable<Answer["lines"]>): object {
  return {
    type: "custom",
    name: "lines of one value",
    silent: true,
    z: 3,
    // Only the first corner of a line is data; the others are placed by the width of a cell.
    data: lines.map(() => [0, 0]),
    renderItem: (p: { dataIndex: number }, api: { coord: (v: number[]) => [number, number] }) => {
      const line = lines[p.dataIndex];
      if (!line) return null;
      const [zero, one] = [api.coord([0, 0]), api.coord([1, 1])];
      const points = line.x.map((x, i) => [zero[0] + Number(x) * (one[0] - zero[0]), zero[1] + Number(line.y[i]) * (one[1] - zero[1])]) as [
        number,
        number,
      ][];
      const middle = points[Math.floor(points.length / 2)] as [number, number];
      return {
        type: "group",
        children: [
          { type: "polyline", shape: { points }, style: { stroke: tokens.ink, lineWidth: 1, fill: "none" } },
          {
            type: "text",
            x: middle[0],
            y: middle[1],
            style: {
              text: format(Number(line.level), 4),
              align: "center",
              verticalAlign: "middle",
              fill: tokens.ink,
              font: `10.5px ${MONO}`,
              backgroundColor: tokens.surface,
              padding: [0, 2],
            },
          },
        ],
      };
    },
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
      ...(isGrid ? [contours(answer?.lines ?? [])] : []),
    ],
  };
}
