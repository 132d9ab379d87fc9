import classNames from "classnames/bind";
import { Button } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { findFactors } from "../../state/factors";
import { FindFactor } from "../../ui/FindFactor";
import { useStudies } from "../../state/studies";
import { addFactor, factorsOf, removeFactor, setFactor, type Study } from "../../state/studyEdits";
import { TextField } from "../../ui/TextField";
import { useDesign } from "./useDesign";
import styles from "./explore.module.css";

const cx = classNames.bind(styles);

/** What varies, in words that are edited where they stand, and how many runs it comes to. */
export function FactorLine({ study: id }: { study: string }) {
  const { study, model } = useBench(useShallow((s) => ({ study: s.model.studies[id], model: s.id })));
  const [editing, setEditing] = useState<string | null>(null);
  const design = useDesign(id, 0);
  if (!study) return null;
  const views = new Map((design.answer?.factors ?? []).map((f) => [f.id, f]));
  return (
    <div className={cx("factors")} role="group" aria-label="Factors">
      {factorsOf(study).map(([f, node], i) => {
        const view = views.get(f);
        return (
          <span key={f} className={cx("factor", { wrong: view?.problem != null })}>
            {i > 0 && <i>×</i>}
            <span>{view?.label ?? node.target}</span>
            {editing === f || node.values === "" ? (
              <span className={cx("values")} onBlur={() => setEditing(null)}>
                <TextField
                  label={`Values of ${view?.label ?? node.target}`}
                  value={node.values}
                  placeholder={view?.present != null ? `now ${view.present}: a, b, c or from:to:steps` : "a, b, c or from:to:steps"}
                  invalid={view?.problem != null && node.values !== ""}
                  commit={(values) => {
                    setFactor(id, f, { values });
                    setEditing(null);
                  }}
                />
              </span>
            ) : (
              <button
                type="button"
                className={cx("told")}
                aria-label={`Values of ${view?.label ?? node.target}: ${view?.told || node.values}`}
                title={view?.problem ?? `${node.values}${view?.isDrawn ? ", drawn for every run" : ""}`}
                onClick={() => setEditing(f)}
              >
                {view?.told || node.values}
              </button>
            )}
            {study.search && study.search.under !== "nominal" && (node.isDrawn || !view?.isDrawn) && (
              <button
                type="button"
                className={cx("told", "role")}
                aria-pressed={node.isDrawn}
                aria-label={`Each attempt stands ${view?.label ?? node.target}`}
                title="Searched between its bounds, or all its values to be stood by each attempt"
                onClick={() => setFactor(id, f, { isDrawn: !node.isDrawn })}
              >
                {node.isDrawn ? "stood" : "searched"}
              </button>
            )}
            <Button type="text" size="small" aria-label={`Take ${view?.label ?? node.target} away`} onClick={() => removeFactor(id, f)}>
              ×
            </Button>
          </span>
        );
      })}
      {study.design.hasTolerances && <Tolerances views={design.answer?.factors ?? []} />}
      <FindFactor find={findFactors(model)} onFound={(c) => addFactor(id, c)} />
      <span className={cx("comes-to")}>{design.answer ? <ComesTo study={study} design={design.answer} /> : null}</span>
    </div>
  );
}

/** The model's tolerances, which the study draws beside its own factors. */
function Tolerances({ views }: { views: readonly Schemas["FactorView"][] }) {
  const count = views.filter((f) => f.isTolerance).length;
  const wrong = views.find((f) => f.isTolerance && f.problem != null);
  return (
    <span className={cx("factor", { wrong: wrong !== undefined })}>
      <i>×</i>
      <button
        type="button"
        className={cx("told")}
        title={
          wrong
            ? `${wrong.label}: ${wrong.problem}`
            : views
                .filter((f) => f.isTolerance)
                .map((f) => `${f.label} ${f.values}`)
                .join("\n")
        }
        onClick={() => useStudies.setState({ view: "tolerances" })}
      >
        {count === 1 ? "1 tolerance" : `${count} tolerances`} of the model
      </button>
    </span>
  );
}

function ComesTo({ study, design }: { study: Study; design: Schemas["StudyDesignView"] }) {
  if (design.problem)
    return Object.keys(study.factors).length === 0 ? null : (
      <span className={cx("bad")} role="status">
        {design.problem} {design.advice}
      </span>
    );
  if (study.search) return <>up to {study.search.runs} runs in search</>;
  const draws = Number(study.design.draws);
  const drawn = design.factors.some((f) => f.isDrawn) && draws > 1 && ["grid", "one", "own"].includes(study.design.kind);
  return (
    <>
      {drawn && `${Math.round(Number(design.total) / draws)} × ${draws} draws = `}
      <b>{design.runs} runs</b>
      {Number(design.leftOut) > 0 && `, ${design.leftOut} left out by conditions`}
    </>
  );
}
