import classNames from "classnames/bind";
import { Button, Dropdown, Popover, Select } from "antd";
import { useMemo, useRef } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { columnsOf } from "../../state/studyColumns";
import { useStudies, type Results } from "../../state/studies";
import { addChart, chartsOf, freshChart, removeChart, setChart, type Chart, type Study } from "../../state/studyEdits";
import { useAnswer } from "../../state/useAnswer";
import { chartFoot, chartOptions, chartTitle } from "./chartOptions";
import { EChart, type Drawn } from "./EChart";
import styles from "./explore.module.css";

const cx = classNames.bind(styles);

const kinds = [
  { value: "scatter", label: "Points with a fit" },
  { value: "histogram", label: "Histogram" },
  { value: "box", label: "Boxes by a factor" },
  { value: "map", label: "Map over two columns" },
  { value: "weights", label: "What it goes with" },
  { value: "tornado", label: "Reach of each factor" },
  { value: "parallel", label: "Columns side by side" },
  { value: "matrix", label: "Matrix of points" },
];

const fits = [
  { value: "none", label: "no fit" },
  { value: "line", label: "straight" },
  { value: "square", label: "of second degree" },
  { value: "cubic", label: "of third degree" },
  { value: "power", label: "power" },
  { value: "smooth", label: "smooth" },
];

/** Charts that a study begins with: the first measure over the first factor, its spread or the next measure, and what it goes with. */
export function firstCharts(study: Study, r: Results): [string, Chart][] {
  const factor = r.factors[0] ? `factor:${r.factors[0].id}` : "run";
  const measures = [...r.measures.map((m) => `measure:${m.id}`), ...r.requirements.map((q) => `margin:${q.id}`)];
  const [first = "run", second = first] = measures;
  const drawn = Number(study.design.draws) > 1 || ["random", "latin", "sobol", "shares"].includes(study.design.kind);
  if (study.search)
    return [
      ["search", freshChart("scatter", { x: "run", y: study.search.worst == null ? "measure:goal" : first, fit: "none" })],
      ["place", freshChart("scatter", { x: factor, y: study.search.worst == null ? "measure:goal" : first, fit: "none" })],
      ["many", freshChart("parallel")],
    ];
  return [
    ["trend", freshChart("scatter", { x: factor, y: first })],
    drawn ? ["spread", freshChart("histogram", { x: first })] : ["other", freshChart("scatter", { x: factor, y: second })],
    ["weights", freshChart("weights", { y: first })],
  ];
}

/** Charts of the results: those saved with the study, or what it begins with. */
export function Charts({ study: id }: { study: string }) {
  const study = useBench((s) => s.model.studies[id]);
  const results = useStudies((s) => s.results);
  if (!study || !results) return null;
  const own = chartsOf(study);
  const shown = own.length > 0 ? own : firstCharts(study, results);
  return (
    <div className={cx("charts")} role="group" aria-label="Charts">
      {shown.map(([key, chart]) => (
        <ChartCard key={key} study={id} id={key} chart={chart} shown={shown} />
      ))}
    </div>
  );
}

/** Adds a chart to those that are shown. */
export function AddChart({ study: id }: { study: string }) {
  const study = useBench((s) => s.model.studies[id]);
  const results = useStudies((s) => s.results);
  if (!study || !results) return null;
  const own = chartsOf(study);
  const shown = own.length > 0 ? own : firstCharts(study, results);
  return (
    <Dropdown
      trigger={["click"]}
      menu={{
        items: kinds.map((k) => ({
          key: k.value,
          label: k.label,
          onClick: () => {
            const [, first] = firstCharts(study, results)[0] as [string, Chart];
            addChart(id, freshChart(k.value, { x: k.value === "histogram" ? first.y : first.x, y: first.y, z: first.y }), shown);
          },
        })),
      }}
    >
      <Button size="small" className={cx("add-chart")}>
        Add a chart
      </Button>
    </Dropdown>
  );
}

interface CardProps {
  study: string;
  id: string;
  chart: Chart;
  /** All charts that are shown with it. */
  shown: readonly [string, Chart][];
}

function ChartCard({ study, id, chart, shown }: CardProps) {
  const { results, picks, without, known } = useStudies(
    useShallow((s) => ({ results: s.results, picks: s.picks, without: s.without, known: s.known })),
  );
  const drawn = useRef<Drawn>(null);
  const job = results?.job ?? "";
  const { answer } = useAnswer<Schemas["StudyChart"]>(
    job
      ? () =>
          ask(
            api.POST("/api/studies/{id}/chart", {
              params: { path: { id: job } },
              body: { chart: { ...chart, z: chart.z ?? null } as Schemas["StudyChartRequest"]["chart"], without: [...without] },
            }),
          )
      : null,
    JSON.stringify([job, known, chart, [...without]]),
  );
  const options = useMemo(
    () => (results ? chartOptions(chart, { results, picks, without, answer }) : null),
    [chart, results, picks, without, answer],
  );
  if (!results) return null;
  const title = chartTitle(results, chart);
  const pick = (row: number) => {
    const next = new Set(useStudies.getState().picks);
    if (!next.delete(row)) next.add(row);
    useStudies.setState({ picks: next });
  };
  return (
    <figure className={cx("chart")} aria-label={title}>
      <figcaption>
        <b title={title}>{title}</b>
        <Popover
          trigger="click"
          placement="bottomRight"
          content={
            <ChartForm study={study} id={id} chart={chart} results={results} shown={shown} save={(f) => drawn.current?.save(f, title)} />
          }
        >
          <Button type="text" size="small" aria-label={`What “${title}” shows`}>
            ⋯
          </Button>
        </Popover>
      </figcaption>
      <p title={chartFoot(chart, answer)}>{chartFoot(chart, answer)}</p>
      {options ? (
        <EChart label={title} options={options} onRow={pick} drawn={drawn} />
      ) : (
        <p className={cx("nothing")}>nothing to draw yet</p>
      )}
    </figure>
  );
}

interface FormProps extends CardProps {
  results: Results;
  save: (form: "svg" | "png") => void;
}

/** What a chart shows of what. */
function ChartForm({ study, id, chart, results, shown, save }: FormProps) {
  const columns = columnsOf(results).map((c) => ({ value: c.key, label: c.label }));
  const put = (values: Partial<Chart>) => setChart(study, id, values, shown);
  const select = (label: string, value: string, options: { value: string; label: string }[], set: (v: string) => void) => (
    <label>
      {label}
      <Select size="small" aria-label={label} value={value} options={options} onChange={set} popupMatchSelectWidth={false} />
    </label>
  );
  const isMany = chart.kind === "matrix" || chart.kind === "parallel";
  return (
    <div className={cx("chart-form")}>
      {select("Shown as", chart.kind, kinds, (kind) => put({ kind }))}
      {!isMany && chart.kind !== "weights" && chart.kind !== "tornado" && select("Bottom", chart.x, columns, (x) => put({ x }))}
      {!isMany && chart.kind !== "histogram" && select("Upwards", chart.y, columns, (y) => put({ y }))}
      {chart.kind === "map" && select("Tone", chart.z ?? "", columns, (z) => put({ z }))}
      {chart.kind === "scatter" && select("Fit", chart.fit, fits, (fit) => put({ fit }))}
      {isMany && (
        <label>
          Columns
          <Select
            size="small"
            mode="multiple"
            aria-label="Columns"
            value={[...chart.columns]}
            options={columns}
            placeholder="factors and measures"
            onChange={(v: string[]) => put({ columns: v })}
            popupMatchSelectWidth={false}
          />
        </label>
      )}
      <div className={cx("buttons")}>
        <Button size="small" onClick={() => save("svg")}>
          Save SVG
        </Button>
        <Button size="small" onClick={() => save("png")}>
          Save PNG
        </Button>
        <Button size="small" disabled={shown.length < 2} onClick={() => removeChart(study, id, shown)}>
          Remove
        </Button>
      </div>
    </div>
  );
}
