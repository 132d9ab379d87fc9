import classNames from "classnames/bind";
import { useEffect } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { chooseLoop, readLoops, useTune, type TuneView } from "../../state/tune";
import { EmptyStage, StagePane } from "../../ui/StagePane";
import { CascadeView } from "./CascadeView";
import { DesignMap } from "./DesignMap";
import { LinearView } from "./LinearView";
import { LoopResponse } from "./LoopResponse";
import { LoopsPane } from "./LoopsPane";
import { MeasuredView } from "./MeasuredView";
import { ModesView } from "./ModesView";
import { PointSelect } from "./PointSelect";
import { PointsView } from "./PointsView";
import { PointView } from "./PointView";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

const views: { id: TuneView; label: string }[] = [
  { id: "loop", label: "Loop" },
  { id: "cascade", label: "Cascade" },
  { id: "point", label: "Operating point" },
  { id: "points", label: "At all points" },
  { id: "linear", label: "Linear" },
  { id: "modes", label: "Modes" },
  { id: "measured", label: "Measured" },
];

/** Tuning of the model's loops: the design map of the chosen one, its response, and what its designs do. */
export default function TuneStage() {
  const { id, revision, tunePart } = useBench(useShallow((s) => ({ id: s.id, revision: s.revision, tunePart: s.tunePart })));
  const { view, loops, part, problem, busy } = useTune(
    useShallow((s) => ({
      view: s.view,
      loops: s.loops,
      part: s.part,
      problem: s.problem,
      busy: s.busy,
    })),
  );
  useEffect(() => readLoops(), [id, revision]);
  useEffect(() => {
    // Who came here from a controller means its loop.
    const wanted = tunePart && loops.find((l) => l.part.split("/").at(-1) === tunePart);
    if (wanted && wanted.part !== useTune.getState().part) chooseLoop(wanted.part);
    if (wanted) useBench.setState({ tunePart: null });
  }, [tunePart, loops]);

  const isLoop = view === "loop";
  if (!part && !busy && isLoop)
    return (
      <EmptyStage label="Tune" title="No controller to tune">
        Place a controller on the diagram and close a loop through it; its gains are found here.
      </EmptyStage>
    );
  return (
    <StagePane label="Tune" className={cx("tune")}>
      <LoopsPane />
      <div className={cx("main")}>
        <div className={cx("bar")}>
          <div className={cx("tabs")} role="group" aria-label="Views">
            {views.map((v) => (
              <button key={v.id} type="button" aria-pressed={v.id === view} onClick={() => useTune.setState({ view: v.id })}>
                {v.label}
              </button>
            ))}
          </div>
          <PointSelect />
        </div>
        {isLoop && problem && (
          <div className={cx("refusal")} role="alert">
            <h3>This loop cannot be tuned so</h3>
            <p>
              {problem.message} {problem.advice}
            </p>
          </div>
        )}
        {isLoop && (
          <div className={cx("pair")} aria-busy={busy}>
            <DesignMap />
            <LoopResponse />
          </div>
        )}
        {view === "cascade" && <CascadeView />}
        {view === "point" && <PointView />}
        {view === "points" && <PointsView />}
        {view === "linear" && <LinearView />}
        {view === "modes" && <ModesView />}
        {view === "measured" && <MeasuredView />}
      </div>
    </StagePane>
  );
}
