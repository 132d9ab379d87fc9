import { useMemo } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { faultySignals } from "../../state/panels";

/** The signals of the level that have faults, by their keys: whether one is active. */
export function useFaultySignals(): ReadonlyMap<string, boolean> {
  const { faults, level, set, playing } = useBench(
    useShallow((s) => ({ faults: s.model.faults, level: s.level, set: s.panelSet, playing: s.play !== null })),
  );
  return useMemo(() => faultySignals(faults, level, playing ? set : null), [faults, level, set, playing]);
}
