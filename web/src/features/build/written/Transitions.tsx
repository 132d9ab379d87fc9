import classNames from "classnames/bind";
import { memo } from "react";
import { pathOf, pointAt, type Way } from "../../../canvas/chart/geometry";
import { linesOf, type Piece } from "../../../canvas/chart/labels";
import type { ChartTransition } from "../../../state/document";
import { ChartText } from "./ChartText";
import styles from "./chart.module.css";

const cx = classNames.bind(styles);

interface Props {
  id: string;
  transition: ChartTransition;
  way: Way;
  kinds: ReadonlyMap<string, Piece["kind"]>;
  selected: boolean;
  /** Its place among those of its state; none where it is the only one. */
  place: number | null;
  flag: string | undefined;
  stops: boolean;
  /** Counts up whenever it is taken, which begins the fading anew; 0 while it was not. */
  taken: number;
  count: number | null;
}

/** One transition: its line, its bead of order, its text. */
export const TransitionShape = memo(function TransitionShape(p: Props) {
  const { id, transition, way, kinds, selected, place, flag, stops, taken, count } = p;
  const lines = linesOf(transition, kinds);
  const up = way.side === "above" ? -6 - 15 * (lines.length - 1) : way.side === "below" ? 17 : 4 - 7.5 * (lines.length - 1);
  const bead = pointAt(way, beadPlace(way));
  const d = pathOf(way);
  const mid = pointAt(way, 0.5);
  return (
    <g
      className={cx("transition", { selected })}
      data-transition={id}
      role="img"
      aria-label={`Transition ${lines
        .flat()
        .map((l) => l.text)
        .join("")}`}
    >
      <path d={d} className={cx("reach")} data-transition={id} />
      <path d={d} className={cx("line")} markerEnd="url(#chart-head)" data-transition={id} />
      {taken > 0 && <path key={taken} d={d} className={cx("lit")} markerEnd="url(#chart-head-lit)" data-transition={id} />}
      {place !== null && (
        <g data-transition={id} className={cx("bead")}>
          <circle cx={bead.x} cy={bead.y} r={8} data-transition={id} />
          <text x={bead.x} y={bead.y + 4} textAnchor="middle" data-transition={id}>
            {place}
          </text>
        </g>
      )}
      {flag && (
        <path d={`M${bead.x - 4} ${bead.y - 26}v14m0 -14l8 4l-8 4`} className={cx("flag", flag)}>
          <title>{flag === "error" ? "Has an error" : "Has a remark"}</title>
        </path>
      )}
      {stops && <path d={`M${mid.x - 3} ${mid.y - 9}v18m6 -18v18`} className={cx("stop")} />}
      <g data-transition={id}>
        <ChartText lines={lines} x={way.label.x} y={way.label.y + up} anchor={way.anchor} />
      </g>
      {count !== null && count > 0 && (
        <text x={mid.x + 10} y={mid.y + 14} className={cx("count")}>
          ×{count}
        </text>
      )}
      <circle cx={way.to.x} cy={way.to.y} r={7} className={cx("head")} data-transition={id} data-handle="head" />
    </g>
  );
});

/** The bead of order lies near the foot, wherever the curve is short or long. */
function beadPlace(w: Way): number {
  const length = Math.hypot(w.to.x - w.from.x, w.to.y - w.from.y) || 1;
  return Math.min(0.4, 13 / length);
}
