import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../../state/bench";

export interface Taken {
  /** Counts up whenever it was seen to be taken; 0 before. */
  flashes: number;
  count: number;
}

/** Which transitions were taken since what was shown before: the counts at the present instant against those of the one before. */
export function useTaken(): ReadonlyMap<string, Taken> {
  const { values, taken, run } = useBench(useShallow((s) => ({ values: s.values, taken: s.view.chart?.taken, run: s.run?.id })));
  const [seen, setSeen] = useState<{ values: object; run: string | undefined; of: ReadonlyMap<string, Taken> }>({
    values,
    run,
    of: new Map(),
  });
  if (seen.values === values && seen.run === run) return seen.of;
  const next = new Map<string, Taken>();
  for (const [id, key] of Object.entries(taken ?? {})) {
    const count = values.get(key);
    const before = seen.run === run ? seen.of.get(id) : undefined;
    if (count === undefined) continue;
    next.set(id, { count, flashes: (before?.flashes ?? 0) + (before && count > before.count ? 1 : 0) });
  }
  setSeen({ values, run, of: next });
  return next;
}
