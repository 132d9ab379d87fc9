import classNames from "classnames/bind";
import { useMemo } from "react";
import { useShallow } from "zustand/react/shallow";
import type { PartView, Schemas } from "../../api/client";
import { boundsOf } from "../../canvas/geometry";
import { LevelPicture } from "../../canvas/LevelPicture";
import { PartFace } from "../../canvas/PartFace";
import { RouteCache } from "../../canvas/routes";
import { select, useBench } from "../../state/bench";
import { arrowsOf, swing } from "./modeArrows";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

const LENGTH = 34;

/** Around the parts that move, and the least width that is seen. */
const ROOM = 72,
  LEAST = 360;

/** The level at hand with an arrow at each part that a mode moves: as long as it moves, turning as it turns. */
export function ModePicture({ mode }: { mode: Schemas["ModeView"] }) {
  const { diagram, parts, level } = useBench(useShallow((s) => ({ diagram: s.diagram, parts: s.view.parts, level: s.level })));
  const routes = useMemo(() => new RouteCache().routes(diagram, parts, null), [diagram, parts]);
  const arrows = useMemo(() => arrowsOf(mode.states, level), [mode, level]);
  const moved = [...arrows.keys()].flatMap((id) => {
    const [node, view] = [diagram.parts[id], parts[id]];
    return node && view ? [{ x: node.x, y: node.y, width: Number(view.width), height: Number(view.height) }] : [];
  });
  if (moved.length === 0) return <p className={cx("view-note")}>This mode moves no part of the level that is open.</p>;
  const around = boundsOf(moved);
  const frame = {
    x: around.x - ROOM,
    y: around.y - ROOM,
    width: Math.max(LEAST, around.width + 2 * ROOM),
    height: around.height + 2 * ROOM,
  };
  const still = window.matchMedia("(prefers-reduced-motion: reduce)").matches;
  return (
    <div className={cx("mode-picture")} role="img" aria-label={`How the mode moves ${[...arrows.keys()].length} parts of this level`}>
      <LevelPicture frame={frame} diagram={diagram} views={parts} routes={routes} face={onScreen} onPick={(id) => select([id])}>
        {[...arrows].map(([id, a]) => {
          const [node, view] = [diagram.parts[id], parts[id]];
          if (!node || !view) return null;
          const [x, y] = [node.x + Number(view.width) / 2, node.y + Number(view.height) / 2];
          const length = LENGTH * a.size;
          return (
            <g key={id} transform={`translate(${x} ${y})`}>
              <g data-arrow={id} transform={`scale(1 ${swing(a.phase)[0]})`}>
                {!still && (
                  <animateTransform
                    attributeName="transform"
                    type="scale"
                    values={swing(a.phase)
                      .map((s) => `1 ${s}`)
                      .join(";")}
                    dur="2.4s"
                    repeatCount="indefinite"
                  />
                )}
                <path d={`M0 0V${-length}`} stroke="#D5471B" strokeWidth="3" />
                <path d={`M-5 ${-length + 3}L0 ${-length - 6}L5 ${-length + 3}Z`} fill="#D5471B" />
              </g>
            </g>
          );
        })}
      </LevelPicture>
    </div>
  );
}

/** A face as the page draws it. */
const onScreen = (view: PartView, width: number, height: number) => (
  <foreignObject width={width} height={height}>
    <PartFace view={view} className={cx("mode-face")} least={0.4} />
  </foreignObject>
);
