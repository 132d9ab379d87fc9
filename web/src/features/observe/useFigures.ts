import { useEffect, useMemo, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import type { Tile } from "../../state/plotSheets";
import { useTileLines } from "./useTileLines";

export type Figures = Record<keyof Schemas["StretchFigures"], number>;

const none: ReadonlyMap<string, Figures> = new Map();

/**
 * Figures of a tile's curves in the present run, by curve, as they are read: between the two instants where two are set, else in what is
 * seen.
 */
export function useFigures(tile: Tile): { figures: ReadonlyMap<string, Figures>; isBetween: boolean } {
  const shown = useTileLines(tile);
  const { run, end, reached, range, mark, time } = useBench(
    useShallow((s) => ({
      run: s.run && s.run.state !== "running" ? s.run.id : null,
      end: Number(s.run?.end ?? 1),
      reached: Number(s.run?.reached ?? 0),
      range: s.range,
      mark: s.mark,
      time: s.time,
    })),
  );
  const isBetween = mark !== null && time !== null && mark !== time;
  const [from, to] = isBetween ? [Math.min(mark, time), Math.max(mark, time)] : [range?.from ?? 0, range?.to ?? end];
  const wanted = useMemo(
    () =>
      shown
        .filter((s) => !s.node.difference)
        .map((s) => ({ id: s.id, signal: s.node.signal, scale: s.read(1) - s.read(0), shift: s.read(0) })),
    [shown],
  );
  const key = JSON.stringify([run, reached, from, to, wanted]);
  const [found, setFound] = useState(none);
  useEffect(() => {
    if (!run || wanted.length === 0) return setFound(none);
    let isWanted = true;
    const query = {
      signal: wanted.map((w) => w.signal),
      scale: wanted.map((w) => w.scale),
      shift: wanted.map((w) => w.shift),
      from,
      to,
    };
    ask(api.GET("/api/runs/{id}/figures", { params: { path: { id: run }, query } })).then(
      (all) => isWanted && setFound(new Map(all.flatMap((f, i) => (f ? [[(wanted[i] as { id: string }).id, f as Figures] as const] : [])))),
      () => isWanted && setFound(none),
    );
    return () => {
      isWanted = false;
    };
  }, [key]); // eslint-disable-line react-hooks/exhaustive-deps
  return { figures: found, isBetween };
}
