import { useEffect, useState } from "react";
import { fetchTraces, type Series } from "../api/traces";
import { useBench } from "./bench";
import { learnSignals } from "./signals";

/** Points along a small curve, and how many of these are asked for. */
const POINTS = 40;
const MOST = 200;

/** Small curves of signals in the present run. */
export function useSmallCurves(signals: readonly string[]): ReadonlyMap<string, Series> {
  const [curves, setCurves] = useState<ReadonlyMap<string, Series>>(new Map());
  const run = useBench((s) => (s.run && s.run.state !== "running" ? s.run.id : null));
  const reached = useBench((s) => (s.run && s.run.state !== "running" ? Number(s.run.reached) : 0));
  const key = signals.join("\n");
  useEffect(() => {
    if (!run || key === "") return;
    let wanted = true;
    const names = [...new Set(key.split("\n"))].slice(0, MOST);
    void learnSignals(names.map((signal) => ({ signal, unit: null }))).catch(() => undefined);
    void fetchTraces(run, names, null, null, POINTS).then(
      (c) => wanted && setCurves(c),
      () => undefined,
    );
    return () => {
      wanted = false;
    };
  }, [run, reached, key]);
  return curves;
}
