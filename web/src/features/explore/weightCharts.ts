import type { EChartsCoreOption } from "echarts/core";
import type { Chart } from "../../state/studyEdits";
import { format } from "../../ui/format";
import { tokens } from "../../ui/tokens";
import { axis, base, column, DOT, FONT, MONO, named, type Content } from "./chartParts";

/** Charts of what a column goes with. */

export function weights(chart: Chart, { results, answer }: Content): EChartsCoreOption | null {
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
