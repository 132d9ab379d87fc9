import classNames from "classnames/bind";
import { Button, Select } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { addFactor, factorsOf, removeFactor, setFactor, type Candidate, type Study } from "../../state/studyEdits";
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
            <Button type="text" size="small" aria-label={`Take ${view?.label ?? node.target} away`} onClick={() => removeFactor(id, f)}>
              ×
            </Button>
          </span>
        );
      })}
      <FindFactor model={model} onFound={(c) => addFactor(id, c)} />
      <span className={cx("comes-to")}>{design.answer ? <ComesTo study={study} design={design.answer} /> : null}</span>
    </div>
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

/** Finds anything that can be varied. */
function FindFactor({ model, onFound }: { model: string; onFound: (c: Candidate) => void }) {
  const [found, setFound] = useState<readonly Candidate[]>([]);
  const search = (text: string) =>
    void ask(api.GET("/api/models/{id}/factors", { params: { path: { id: model }, query: { search: text } } })).then(setFound, () =>
      setFound([]),
    );
  return (
    <Select
      size="small"
      showSearch={{ filterOption: false, onSearch: search }}
      className={cx("find-factor")}
      aria-label="Vary something more"
      placeholder="vary…"
      value={null}
      popupMatchSelectWidth={false}
      options={found.map((c) => ({
        value: c.target,
        label: (
          <span className={cx("candidate")}>
            {c.label} <span className="quiet">{c.present ?? c.kind}</span>
          </span>
        ),
      }))}
      onFocus={() => search("")}
      onChange={(target: string | null) => {
        const one = found.find((c) => c.target === target);
        if (one) onFound(one);
      }}
    />
  );
}
