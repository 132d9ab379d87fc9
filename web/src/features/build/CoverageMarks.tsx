import classNames from "classnames/bind";
import { useEffect } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { coveredAt, coveredWords, readCoverage, useCoverage } from "../../state/coverage";
import type { Visible } from "../../canvas/hitIndex";
import styles from "./build.module.css";

const cx = classNames.bind(styles);

/** Below each part how much of what it decides the cases came by, with what they did not in words. */
export function CoverageMarks({ within }: { within: Visible | null }) {
  const { diagram, level, views, revision } = useBench(
    useShallow((s) => ({ diagram: s.diagram, level: s.level, views: s.view.parts, revision: s.revision })),
  );
  const { view, marks } = useCoverage(useShallow((s) => ({ view: s.view, marks: s.marks })));
  useEffect(() => {
    if (marks) void readCoverage();
  }, [marks, revision]);
  if (!marks || !view) return null;
  return (
    <>
      {Object.entries(diagram.parts).map(([id, node]) => {
        const part = views[id];
        const found = coveredAt(view, level ? `${level}/${id}` : id);
        if (!part || found.total === 0 || (within && !within.parts.has(id))) return null;
        const told = `${node.name}: ${coveredWords(found)}`;
        return (
          <g key={id} role="img" aria-label={told} transform={`translate(${node.x} ${node.y + part.height + 3})`}>
            <title>{told}</title>
            <rect className={cx("coverage-all")} width={part.width} height={4} />
            <rect className={cx("coverage-seen")} width={(part.width * found.covered) / found.total} height={4} />
          </g>
        );
      })}
    </>
  );
}
