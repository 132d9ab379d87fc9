import classNames from "classnames/bind";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ApiError, ask, type Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { PointAnswer } from "./PointAnswer";
import { emptyAsk, PointForm, requestOf, type PointAsk } from "./PointForm";
import { PointSeries } from "./PointSeries";
import { RestTable } from "./RestTable";
import { SavedPoints } from "./SavedPoints";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

type Answer = Schemas["SteadyAnswer"];

/** Operating points: what must have which value there and what may change for it, one or many over a quantity; and those that are saved. */
export function PointView() {
  const { id, revision } = useBench(useShallow((s) => ({ id: s.id, revision: s.view.resultsRevision })));
  const [wish, setWish] = useState<PointAsk>(emptyAsk);
  const [found, setFound] = useState<{ answer: Answer; revision: number } | null>(null);
  const [series, setSeries] = useState<{ answer: Schemas["SeriesAnswer"]; revision: number } | null>(null);
  const [problem, setProblem] = useState<ApiError | null>(null);
  const [busy, setBusy] = useState(false);
  const call = <T,>(work: Promise<T>, take: (answer: T) => void) => {
    setBusy(true);
    work
      .then(
        (answer) => (take(answer), setProblem(null)),
        (e: unknown) => setProblem(e instanceof ApiError ? e : new ApiError(0, String(e))),
      )
      .finally(() => setBusy(false));
  };
  const params = { path: { id } };
  const search = () => {
    const { series: over } = wish;
    if (over)
      call(
        ask(
          api.POST("/api/models/{id}/steady/series", {
            params,
            body: { each: requestOf(wish), over: over.over || null, from: over.from, to: over.to, count: over.count },
          }),
        ),
        (answer) => (setSeries({ answer, revision }), setFound(null)),
      );
    else
      call(ask(api.POST("/api/models/{id}/steady", { params, body: requestOf(wish) })), (answer) => {
        setFound({ answer, revision });
        setSeries(null);
      });
  };
  return (
    <div className={cx("view", "halves")} aria-busy={busy}>
      <div className={cx("scrolled")}>
        <PointForm wish={wish} change={setWish} search={search} busy={busy} />
        {problem && (
          <p className={cx("refusal")} role="alert">
            {problem.message} {problem.advice}
          </p>
        )}
        {found && <PointAnswer answer={found.answer} isOld={found.revision !== revision} />}
      </div>
      <div className={cx("scrolled")}>
        <SavedPoints open={setWish} />
        {series && (
          <PointSeries
            answer={series.answer}
            isOld={series.revision !== revision}
            show={(answer) => setFound({ answer, revision: series.revision })}
          />
        )}
        {found ? (
          <RestTable answer={found.answer} />
        ) : (
          !series && (
            <p className={cx("view-note")}>
              A search finds the state in which nothing changes. Fix signals to have them at wanted values, and free as many parameters for
              it: a source, a set-point, a valve. What is found can be saved: analyses look at the model from there, and runs can begin
              there.
            </p>
          )
        )}
      </div>
    </div>
  );
}
