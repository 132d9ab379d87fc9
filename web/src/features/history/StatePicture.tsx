import classNames from "classnames/bind";
import { useEffect, useMemo, useState } from "react";
import { api, ask, type PartView, type Schemas } from "../../api/client";
import { LevelPicture, type Mark } from "../../canvas/LevelPicture";
import { PartFace } from "../../canvas/PartFace";
import { RouteCache } from "../../canvas/routes";
import { levelAt } from "../../state/document";
import styles from "./history.module.css";

const cx = classNames.bind(styles);

interface Props {
  state: Schemas["StateRequest"];
  /** Another number where the present state has changed. */
  stamp: number;
  level: string;
  marks: ReadonlyMap<string, Mark>;
  onPick: (id: string) => void;
}

/** One level of one state, with what differs set off. */
export function StatePicture({ state, stamp, level, marks, onPick }: Props) {
  const [shown, setShown] = useState<Schemas["StateView"] | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const asked = JSON.stringify([state, level]);
  useEffect(() => {
    let wanted = true;
    const [request, path] = JSON.parse(asked) as [Schemas["StateRequest"], string];
    ask(api.POST("/api/states", { body: { state: request, level: path } })).then(
      (found) => wanted && (setShown(found), setProblem(null)),
      (e: Error) => wanted && setProblem(e.message),
    );
    return () => {
      wanted = false;
    };
  }, [asked, stamp]);
  const drawn = useMemo(() => {
    const diagram = shown && levelAt(shown.document, level)?.diagram;
    return diagram ? { diagram, routes: new RouteCache().routes(diagram, shown.view.parts, null) } : null;
  }, [shown, level]);
  if (problem) return <p className={cx("nothing")}>{problem}</p>;
  if (!shown || !drawn) return <p className={cx("nothing")}>Drawing …</p>;
  return (
    <div className={cx("picture")} role="img" aria-label={`Level of ${shown.name}`}>
      <LevelPicture diagram={drawn.diagram} views={shown.view.parts} routes={drawn.routes} marks={marks} face={onScreen} onPick={onPick} />
    </div>
  );
}

/** A face as the page draws it. */
const onScreen = (view: PartView, width: number, height: number) => (
  <foreignObject width={width} height={height}>
    <PartFace view={view} className={cx("face")} least={0.4} />
  </foreignObject>
);
