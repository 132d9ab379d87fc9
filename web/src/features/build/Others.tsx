import classNames from "classnames/bind";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { colorOfOther } from "../../state/others";
import styles from "./build.module.css";

const cx = classNames.bind(styles);

const AIR = 5;

/** What others have selected on this level, with their names. */
export function Others() {
  const { others, level, diagram, views } = useBench(
    useShallow((s) => ({ others: s.others, level: s.level, diagram: s.diagram, views: s.view.parts })),
  );
  return others
    .filter((o) => o.level === level)
    .flatMap((o) =>
      o.selection.flatMap((id, i) => {
        const [node, view] = [diagram.parts[id], views[id]];
        if (!node || !view) return [];
        const color = colorOfOther(o.window);
        return (
          <div
            key={`${o.window} ${id}`}
            className={cx("other")}
            style={{
              left: node.x - AIR,
              top: node.y - AIR,
              width: view.width + 2 * AIR,
              height: view.height + 2 * AIR,
              borderColor: color,
            }}
          >
            {i === 0 && <span style={{ background: color }}>{o.name || "somebody"}</span>}
          </div>
        );
      }),
    );
}
