import classNames from "classnames/bind";
import { memo } from "react";
import { boxOf, DOT, isSmall } from "../../../canvas/chart/geometry";
import { bodyOf, type Piece } from "../../../canvas/chart/labels";
import type { ChartState } from "../../../state/document";
import { ChartText } from "./ChartText";
import styles from "./chart.module.css";

const cx = classNames.bind(styles);

interface Props {
  id: string;
  state: ChartState;
  kinds: ReadonlyMap<string, Piece["kind"]>;
  active: boolean;
  selected: boolean;
  /** Whether something that is dragged would go into it. */
  target: boolean;
  /** Whether states stand in it. */
  isOuter: boolean;
  /** Whether it is a region of the state around it. */
  isRegion: boolean;
  flag: string | undefined;
  stops: boolean;
}

/** One state, or what stands for one. */
export const StateShape = memo(function StateShape({ id, state, kinds, active, selected, target, isOuter, isRegion, flag, stops }: Props) {
  const b = boxOf(state);
  const marks = { active, selected, target, outer: isOuter, region: isRegion };
  if (isSmall(state)) {
    const [x, y, r] = [b.x + DOT / 2, b.y + DOT / 2, DOT / 2 - 1];
    return (
      <g className={cx("state", "small", marks)} data-state={id} role="img" aria-label={`${state.name}${active ? ", active" : ""}`}>
        <circle cx={x} cy={y} r={r} className={cx("plate")} data-state={id} />
        {state.kind === "final" && <circle cx={x} cy={y} r={r - 5} className={cx("core")} data-state={id} />}
        {state.kind === "junction" && <circle cx={x} cy={y} r={4} className={cx("core")} data-state={id} />}
        {(state.kind === "history" || state.kind === "deepHistory") && (
          <text x={x} y={y + 4} textAnchor="middle" className={cx("letter")} data-state={id}>
            {state.kind === "history" ? "H" : "H*"}
          </text>
        )}
        <Handle id={id} b={b} />
      </g>
    );
  }
  const width = Math.max(36, state.name.length * 6.7 + 16);
  const left = isRegion ? b.x + 6 : Math.min(b.x + 14, b.x + b.width - width);
  return (
    <g
      className={cx("state", marks)}
      data-state={id}
      data-active={active || undefined}
      role="img"
      aria-label={`State ${state.name}${active ? ", active" : ""}`}
    >
      <rect x={b.x} y={b.y} width={b.width} height={b.height} rx={10} className={cx("plate")} data-state={id} />
      {isRegion ? (
        <text x={left + 4} y={b.y + 18} className={cx("region-name")} data-state={id}>
          {state.name}
        </text>
      ) : (
        <g>
          <rect x={left} y={b.y - 10} width={width} height={20} rx={3} className={cx("tab")} data-state={id} />
          <text x={left + width / 2} y={b.y + 4} textAnchor="middle" className={cx("name")} data-state={id}>
            {state.name}
          </text>
        </g>
      )}
      {stops && <path d={`M${b.x + b.width - 14} ${b.y + 6}v10m5 -10v10`} className={cx("stop")} />}
      {flag && (
        <path d={`M${b.x + b.width - 18} ${b.y + 8}v14m0 -14l8 4l-8 4`} className={cx("flag", flag)}>
          <title>{flag === "error" ? "Has an error" : "Has a remark"}</title>
        </path>
      )}
      <ChartText lines={bodyOf(state, kinds, Math.max(12, (b.width - 18) / 5.5))} x={b.x + 12} y={b.y + (isRegion ? 36 : 26)} />
      <Handle id={id} b={b} />
      <path
        d={`M${b.x + b.width - 10} ${b.y + b.height - 2}l8 -8M${b.x + b.width - 6} ${b.y + b.height - 2}l4 -4`}
        className={cx("corner")}
        data-state={id}
        data-handle="corner"
      />
    </g>
  );
});

/** Where transitions are drawn from: at the middle of the right side and of the lower one. */
function Handle({ id, b }: { id: string; b: { x: number; y: number; width: number; height: number } }) {
  return (
    <g className={cx("handles")}>
      <circle cx={b.x + b.width} cy={b.y + b.height / 2} r={5} data-state={id} data-handle="draw" className={cx("handle")} />
      <circle cx={b.x + b.width / 2} cy={b.y + b.height} r={5} data-state={id} data-handle="draw" className={cx("handle")} />
      <circle cx={b.x} cy={b.y + b.height / 2} r={5} data-state={id} data-handle="draw" className={cx("handle")} />
      <circle cx={b.x + b.width / 2} cy={b.y} r={5} data-state={id} data-handle="draw" className={cx("handle")} />
    </g>
  );
}
