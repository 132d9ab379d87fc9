import classNames from "classnames/bind";
import { Button } from "antd";
import { lazy } from "react";
import { BuildStage } from "../features/build/BuildStage";
import { showScene, useBench } from "../state/bench";
import { firstViews } from "../state/shapes";
import styles from "./app.module.css";

const cx = classNames.bind(styles);

const SceneTile = lazy(() => import("../features/observe/SceneTile"));

/** The diagram, and beside it the scene where it is asked for. */
export function BuildScreen() {
  const scene = useBench((s) => s.scene);
  const views = useBench(firstViews);
  if (scene === null) return <BuildStage />;
  return (
    <div className={cx("halves", { whole: scene === "whole" })}>
      {scene === "half" && <BuildStage />}
      <section className={cx("scene-half")} aria-label="Scene">
        <header className={cx("scene-head")}>
          <span>Scene</span>
          <Button size="small" type="text" onClick={() => showScene(scene === "half" ? "whole" : "half")}>
            {scene === "half" ? "Fill the stage" : "Beside the diagram"}
          </Button>
          <Button size="small" type="text" onClick={() => showScene(null)}>
            Close
          </Button>
        </header>
        <SceneTile title="Scene" views={views} />
      </section>
    </div>
  );
}
