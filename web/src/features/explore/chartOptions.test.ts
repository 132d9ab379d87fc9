import { describe, expect, test } from "vitest";
import type { Schemas } from "../../api/client";
import type { Results, Row } from "../../state/studies";
import { freshChart } from "../../state/studyEdits";
import { chartFoot, chartOptions, chartTitle } from "./chartOptions";
import { manyColumns } from "./manyCharts";

const rows: Row[] = [0, 1, 2, 3].map((i) => ({
  row: i,
  number: i + 1,
  cells: [`${i} kg`, i % 2 ? "on" : "off"],
  numbers: [i, null],
  measures: [i * i],
  met: [i < 3],
  margins: [3 - i],
  problem: null,
  isFailed: i === 2,
}));

const results: Results = {
  job: "j",
  factors: [
    { id: "f", name: "mass", unit: "kg" },
    { id: "g", name: "valve", unit: "" },
  ],
  measures: [{ id: "m", name: "deepest", unit: "m" }],
  requirements: [{ id: "q", name: "not too deep", unit: "" }],
  rows,
  running: {},
  end: 1,
  best: null,
  improved: [],
  why: null,
  ended: null,
};

const none = new Set<number>();
const answer = (more: Partial<Schemas["StudyChart"]>): Schemas["StudyChart"] =>
  ({
    course: [],
    boxes: [],
    cells: [],
    weights: [],
    law: null,
    determination: null,
    spread: null,
    explained: null,
    problem: null,
    ...more,
  }) as Schemas["StudyChart"];
const draw = (chart: Parameters<typeof chartOptions>[0], more: Partial<Parameters<typeof chartOptions>[1]> = {}) =>
  chartOptions(chart, { results, picks: none, without: none, answer: null, ...more }) as {
    series: { name?: string; data: unknown[] }[];
  } | null;

describe("charts of a study", () => {
  const trend = freshChart("scatter", { x: "factor:f", y: "measure:m" });

  test("points are runs that came to their end; missed and picked ones stand apart", () => {
    const named = (name: string, picks = none) => draw(trend, { picks })?.series.find((s) => s.name === name)?.data;
    expect(named("runs")).toEqual([
      [0, 0, 0],
      [1, 1, 1],
    ]);
    expect(named("missed")).toEqual([[3, 9, 3]]);
    expect(named("picked", new Set([1]))).toEqual([[1, 1, 1]]);
  });

  test("a search shows how it came to its best over the number of the run", () => {
    const goal = { id: "goal", name: "goal", unit: "" };
    const searched = {
      ...results,
      measures: [goal],
      improved: [
        [0, 9],
        [3, 2],
      ] as const,
    };
    const made = draw(freshChart("scatter", { x: "run", y: "measure:goal", fit: "none" }), { results: searched });
    expect(made?.series.find((s) => s.name === "best so far")?.data).toEqual([
      [1, 9],
      [4, 2],
      [4, 2],
    ]);
  });

  test("what is left out is not drawn", () => {
    expect(draw(trend, { without: new Set([0, 1, 3]) })).toBeNull();
  });

  test("a fit has its course, its law and its band", () => {
    const fit = answer({ course: [0, 1].map((x) => ({ x, y: x, low: x - 1, high: x + 1 })), law: "0 + 1·x", determination: 0.98 });
    expect(draw(trend, { answer: fit })?.series.map((s) => s.name)).toContain("band");
    expect(chartFoot(trend, fit)).toBe("0 + 1·x, R² 0.98; band: 95 %");
    expect(chartTitle(results, trend)).toBe("deepest over mass");
  });

  test("charts that need an answer wait for it, and say what is wrong", () => {
    for (const kind of ["histogram", "box", "map", "weights", "tornado"]) expect(draw(freshChart(kind))).toBeNull();
    expect(chartFoot(freshChart("box"), answer({ problem: "Choose a factor." }))).toBe("Choose a factor.");
  });

  test("weights are sorted, the largest on top", () => {
    const weights = [0.2, -0.9].map((rank, i) => ({
      factor: `${i}`,
      label: `f${i}`,
      rank,
      regression: rank,
      low: null,
      high: null,
      share: null,
    }));
    const made = draw(freshChart("weights", { y: "measure:m" }), { answer: answer({ weights }) }) as unknown as {
      yAxis: { data: string[] };
    };
    expect(made.yAxis.data).toEqual(["f0", "f1"]);
  });

  test("a chart of many takes the columns of numbers", () => {
    expect(manyColumns(freshChart("matrix"), results, 5).map((c) => c.key)).toEqual(["factor:f", "measure:m"]);
    expect(manyColumns(freshChart("matrix", { columns: ["run"] }), results, 5).map((c) => c.key)).toEqual(["run"]);
    expect(draw(freshChart("matrix"))?.series.length).toBe(6);
    expect(draw(freshChart("parallel"))?.series.length).toBe(2);
  });
});
