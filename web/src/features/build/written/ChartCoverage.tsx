import classNames from "classnames/bind";
import { boxOf, pointAt, type Way } from "../../../canvas/chart/geometry";
import { coveredWords } from "../../../state/coverage";
import type { Chart } from "../../../state/document";
import { useItemCoverage } from "./useItemCoverage";
import styles from "./chart.module.css";

const cx = classNames.bind(styles);

/** What the cases came by in a chart: below each state, and at the head of each transition. */
export function ChartCoverage({ chart, ways }: { chart: Chart; ways: ReadonlyMap<string, Way> }) {
  const items = useItemCoverage();
  return [...items].map(([id, found]) => {
    const state = chart.states[id];
    const way = ways.get(id);
    if (!state && !way) return null;
    const name = state ? state.name : "Transition";
    const told = `${name}: ${coveredWords(found)}`;
    const box = state ? boxOf(state) : null;
    const at = way ? pointAt(way, 0.72) : { x: 0, y: 0 };
    const whole = found.covered === found.total;
    return (
      <g key={id} role="img" aria-label={told} className={cx("covered")}>
        <title>{told}</title>
        {box ? (
          <>
            <rect x={box.x} y={box.y + box.height + 3} width={box.width} height={4} className={cx("covered-all")} />
            <rect
              x={box.x}
              y={box.y + box.height + 3}
              width={(box.width * found.covered) / found.total}
              height={4}
              className={cx("covered-seen")}
            />
          </>
        ) : (
          <rect
            x={at.x - 5}
            y={at.y - 5}
            width={10}
            height={10}
            className={cx(whole ? "covered-seen" : found.covered > 0 ? "covered-some" : "covered-none")}
          />
        )}
      </g>
    );
  });
}
