import classNames from "classnames/bind";
import { Button, Select } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ApiError, ask, type Schemas } from "../../api/client";
import { notify, useBench } from "../../state/bench";
import { edit } from "../../state/model";
import { APPLIED, lookFrom, useTune } from "../../state/tune";
import { format } from "../../ui/format";
import { Chart } from "./Chart";
import { NumberField } from "./NumberField";
import { useAnswer } from "../../state/useAnswer";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

type Answer = Schemas["PointDesignsAnswer"];

const BEST = " best";

const goals = [
  { value: "load", label: "least load error" },
  { value: "integralGain", label: "largest integral gain" },
  { value: "setPoint", label: "least set-point error" },
];

/** The chosen loop at all saved operating points: with one design, with its schedule, or with the best at each. */
export function PointsView() {
  const { id, revision } = useBench(useShallow((s) => ({ id: s.id, revision: s.view.resultsRevision })));
  const points = useBench((s) => s.model.operatingPoints);
  const { loops, part, designs, form, peak, saved } = useTune(
    useShallow((s) => ({
      loops: s.loops,
      part: s.part,
      designs: s.designs,
      form: s.form,
      peak: s.wishes.sensitivity,
      saved: s.saved,
    })),
  );
  const [which, setWhich] = useState<string>(APPLIED);
  const [goal, setGoal] = useState("load");
  const [between, setBetween] = useState(false);
  const [limit, setLimit] = useState<number | null>(null);
  const loop = loops.find((l) => l.part === part);
  const ids = Object.keys(points);
  const most = limit ?? Number(peak ?? 1.6);
  const gains = which === BEST || which === APPLIED ? null : (designs.get(which)?.gains ?? null);
  const best =
    which === BEST ? { form, goal, sensitivity: most, noiseGain: null, points: null, damping: null, ratio: null, weighted: null } : null;
  const { answer, problem, busy } = useAnswer<Answer>(
    part && ids.length > 0
      ? () =>
          ask(api.POST("/api/models/{id}/loops/points", { params: { path: { id } }, body: { part, points: ids, gains, best, between } }))
      : null,
    JSON.stringify([id, revision, part, ids, gains, best, between]),
  );
  if (ids.length === 0)
    return (
      <p className={cx("view-note")}>
        Save operating points first, under Operating point: one after the other, or many over a quantity. Here the loop is then judged at
        all of them, and a controller whose gains follow a table gets its table.
      </p>
    );
  const fill = () => {
    if (!loop || !answer?.texts) return;
    edit(
      `Fill the schedule of ${loop.name}`,
      Object.entries(answer.texts).map(([name, value]) => ({ op: "add" as const, path: `${loop.pointer}/${name}`, value })),
    );
    notify(`The schedule of ${loop.name} has a row for each point; undo takes it back.`);
    setWhich(APPLIED);
  };
  const good = answer?.points.filter((p) => p.figures) ?? [];
  const worst = [...good].sort((a, b) => Number(b.figures?.sensitivity) - Number(a.figures?.sensitivity))[0];
  return (
    <div className={cx("view")} aria-busy={busy}>
      <div className={cx("view-bar")}>
        <label>
          with{" "}
          <Select
            size="small"
            aria-label="Gains at the points"
            value={designs.has(which) || which === BEST ? which : APPLIED}
            options={[
              ...[...designs.keys()].map((name) => ({ value: name, label: name === APPLIED ? "what is applied" : name })),
              { value: BEST, label: "the best at each" },
            ]}
            onChange={setWhich}
            popupMatchSelectWidth={false}
          />
        </label>
        {which === BEST && (
          <>
            <Select size="small" aria-label="What is best" value={goal} options={goals} onChange={setGoal} popupMatchSelectWidth={false} />
            <label>
              of {form}, Ms below <NumberField label="Largest peak at each point" value={most} fits={(v) => v > 1} put={setLimit} />
            </label>
            {answer?.texts && (
              <Button size="small" type="primary" onClick={fill}>
                Fill the schedule
              </Button>
            )}
          </>
        )}
        {ids.length > 1 && (
          <label>
            <input type="checkbox" checked={between} onChange={(e) => setBetween(e.target.checked)} /> halfway between them too
          </label>
        )}
        <span role="status">
          {busy ? "working" : worst?.figures ? `highest peak ${format(Number(worst.figures.sensitivity), 3)}: ${worst.name}` : ""}
        </span>
      </div>
      {problem && (
        <p className={cx("refusal")} role="alert">
          {problem instanceof ApiError ? `${problem.message} ${problem.advice ?? ""}` : String(problem)}
        </p>
      )}
      <div className={cx("scrolled")}>
        <PointsTable answer={answer} saved={saved} />
        {answer && <Schedule answer={answer} />}
      </div>
    </div>
  );
}

function PointsTable({ answer, saved }: { answer: Answer | null; saved: string | null }) {
  const has = answer?.points.some((p) => p.quantity != null);
  const cell = (v: number | string | null | undefined, digits = 3) => (
    <td className="mono">{v === null || v === undefined ? "–" : format(Number(v), digits)}</td>
  );
  return (
    <table className={cx("mode-table")} aria-label="The loop at the saved points">
      <thead>
        <tr>
          <th scope="col">point</th>
          {has && <th scope="col">follows{answer?.unit && `, ${answer.unit}`}</th>}
          <th scope="col">k</th>
          <th scope="col">Ti, s</th>
          <th scope="col">Td, s</th>
          <th scope="col">bandwidth, rad/s</th>
          <th scope="col">margin, °</th>
          <th scope="col">Ms</th>
          <th scope="col">load error</th>
        </tr>
      </thead>
      <tbody>
        {answer?.points.map((p) => (
          <tr key={p.name} className={cx({ chosen: p.point === saved, between: p.isBetween })}>
            <td>
              {p.isBetween ? (
                "halfway"
              ) : (
                <button type="button" className={cx("link")} title="Look at the model from here" onClick={() => lookFrom(null, p.point)}>
                  {p.name}
                </button>
              )}
              {p.warning && <p className={cx("warning")}>{p.warning}</p>}
            </td>
            {p.problem ? (
              <td colSpan={8} className={cx("bad")}>
                {p.problem}
              </td>
            ) : (
              <>
                {has && cell(p.quantity, 4)}
                {cell(p.gains?.k, 4)}
                {cell(p.gains?.ti, 4)}
                {cell(p.gains?.td, 4)}
                {cell(p.figures?.bandwidth)}
                {cell(p.figures?.phaseMargin)}
                {p.figures?.isStable === false ? <td className={cx("bad")}>unstable</td> : cell(p.figures?.sensitivity)}
                {cell(p.figures?.loadError)}
              </>
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Gain and integral time over what the schedule follows. */
function Schedule({ answer }: { answer: Answer }) {
  const rows = answer.points
    .filter((p) => p.quantity != null && p.gains)
    .map((p) => ({ isBetween: p.isBetween, x: Number(p.quantity), k: Number(p.gains?.k), ti: Number(p.gains?.ti ?? 0) }))
    .sort((a, b) => a.x - b.x);
  if (rows.length < 2) return null;
  const of = (id: "k" | "ti", title: string) => (
    <Chart
      id={id}
      title={title}
      curves={[{ name: title, x: rows.map((r) => r.x), y: rows.map((r) => r[id]), color: "#0072B2", width: 1.6 }]}
      xLabel={answer.unit ? `what it follows, ${answer.unit}` : "what it follows"}
      points={rows.filter((r) => !r.isBetween).map((r) => ({ x: r.x, y: r[id] }))}
    />
  );
  return (
    <div className={cx("schedule")}>
      {of("k", "Gain")}
      {of("ti", "Integral time, s")}
    </div>
  );
}
