import classNames from "classnames/bind";
import type { Piece } from "../../../canvas/chart/labels";
import styles from "./chart.module.css";

const cx = classNames.bind(styles);

/** Lines of text in which every name is written in the style of what it is. */
export function ChartText({
  lines,
  x,
  y,
  step = 15,
  anchor = "start",
}: {
  lines: readonly Piece[][];
  x: number;
  y: number;
  step?: number;
  anchor?: "start" | "middle" | "end";
}) {
  return (
    <text x={x} y={y} textAnchor={anchor} className={cx("text")}>
      {lines.map((line, i) => (
        <tspan key={i} x={x} dy={i === 0 ? 0 : step} xmlSpace="preserve">
          {line.map((p, j) => (
            <tspan key={j} className={cx(`is-${p.kind}`)}>
              {p.text}
            </tspan>
          ))}
        </tspan>
      ))}
    </text>
  );
}
