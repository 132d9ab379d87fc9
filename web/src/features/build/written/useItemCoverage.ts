import { useEffect, useMemo } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../../state/bench";
import { coveredItems, readCoverage, useCoverage, type Covered } from "../../../state/coverage";

const none: ReadonlyMap<string, Covered> = new Map();

/** What the cases came by in each thing on the level, by its id; nothing while it is not to be shown. */
export function useItemCoverage(): ReadonlyMap<string, Covered> {
  const { level, revision } = useBench(useShallow((s) => ({ level: s.level, revision: s.revision })));
  const { view, marks } = useCoverage(useShallow((s) => ({ view: s.view, marks: s.marks })));
  useEffect(() => {
    if (marks) void readCoverage();
  }, [marks, revision]);
  return useMemo(() => (marks && view ? coveredItems(view, level) : none), [marks, view, level]);
}
