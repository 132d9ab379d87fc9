import { useMemo } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../../state/bench";

/** The gravest finding about each thing on the level, by its id. */
export function useFlags(): Readonly<Record<string, string>> {
  const { findings, level } = useBench(useShallow((s) => ({ findings: s.view.findings, level: s.level })));
  return useMemo(() => {
    const grave = { information: 0, warning: 1, error: 2 } as Record<string, number>;
    const flags: Record<string, string> = {};
    for (const f of findings) {
      if (!f.part?.startsWith(`${level}/`)) continue;
      const id = f.part.slice(level.length + 1);
      if ((grave[f.severity] ?? 0) >= (grave[flags[id] ?? ""] ?? -1)) flags[id] = f.severity;
    }
    return flags;
  }, [findings, level]);
}
