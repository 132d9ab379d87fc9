import { useMemo } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Schemas } from "../../api/client";
import { valueAt, type Series } from "../../api/traces";
import { signalColor } from "../../plots/colors";
import type { Line } from "../../plots/curves";
import { useBench } from "../../state/bench";
import { differenceKey } from "../../state/observe";
import { stripOf, type Curve, type Tile } from "../../state/plotSheets";
import { infoOf } from "../../state/signals";

/** A curve of a tile as it is shown: of the present run, and of those beside it. */
export interface Shown {
  id: string;
  node: Curve;
  /** Its place among the curves of the tile, which gives it its colour. */
  color: string;
  label: string;
  unit: string;
  /** The variable that runs record for it. */
  recorded: string;
  /** From the value that the model computes with to the one that is read. */
  read: (value: number) => number;
  lines: Line[];
  /** The present run's points. */
  series: Series | undefined;
  /** Those of the other runs, by run. */
  others: { run: string; number: number; name: string; series: Series }[];
}

const dashes = { solid: [], dashed: [7, 4], dotted: [2, 3] } as const;
/** Runs beside the present one are told apart by their dashes. */
const runDashes = [[], [7, 3], [2, 3], [9, 3, 2, 3]] as const;

/** Where many runs lie: all of them, nine of ten, and the middle one. */
function bandLines(band: Schemas["SignalBand"]): { x: Float64Array; y: Float64Array; more: Partial<Line> }[] {
  const numbers = (of: readonly (number | string)[]) => Float64Array.from(of, Number);
  const x = numbers(band.times);
  return [
    { x, y: numbers(band.least), more: { upTo: numbers(band.largest), opacity: 0.13, dash: [] } },
    { x, y: numbers(band.low), more: { upTo: numbers(band.high), opacity: 0.22, dash: [] } },
    { x, y: numbers(band.median), more: { width: 1, dash: [1, 2] } },
  ];
}

/** The curves of a tile with what is drawn of them. */
export function useTileLines(tile: Tile): Shown[] {
  const { curves, infos, run, overlays, runColors, bands, runs, reference, traces } = useBench(
    useShallow((s) => ({
      curves: s.curves,
      infos: s.infos,
      run: s.run?.id ?? null,
      overlays: s.overlays,
      runColors: s.runColors,
      bands: s.bands,
      runs: s.runs,
      reference: s.reference,
      traces: s.traces,
    })),
  );
  return useMemo(
    () =>
      Object.entries(tile.curves).map(([id, node], position) => {
        const strip = stripOf(tile, node.strip);
        const info = infoOf(infos, node.signal, (node.onRight ? strip.right : strip.left).unit);
        const scale = Number(info?.view.scale ?? 1) * node.factor;
        // A difference of two values does not know where their scale begins.
        const shift = (node.difference ? 0 : Number(info?.view.shift ?? 0) * node.factor) + node.offset;
        const color = signalColor(node.color ?? position);
        const key = node.difference && reference ? differenceKey(node.signal, reference) : node.signal;
        const own = run ? (curves.get(run)?.get(key) ?? (node.difference ? undefined : traces.get(key))) : undefined;
        const draw = (series: Series, more: Partial<Line>): Line => ({
          x: series.times,
          y: series.values,
          color,
          dash: dashes[(node.dash ?? "solid") as keyof typeof dashes],
          width: node.width ?? 1.6,
          scale,
          shift,
          right: node.onRight,
          steps: node.steps,
          ...more,
        });
        const others = node.difference
          ? []
          : overlays
              .filter((r) => r !== run)
              .flatMap((r, i) => {
                const series = curves.get(r)?.get(node.signal);
                const known = runs.find((k) => k.id === r);
                return series && series.times.length > 0
                  ? [{ run: r, number: Number(known?.number ?? 0), name: known?.name ?? "", series, dash: runDashes[i % runDashes.length] }]
                  : [];
              });
        const band = node.difference ? undefined : bands?.of.get(node.signal);
        const lines = [
          ...(band ? bandLines(band).map((l) => draw({ times: l.x, values: l.y }, l.more)) : []),
          ...others.map((o) => {
            const own = runColors.get(o.run);
            if (own) return draw(o.series, { color: own, width: 1.2 });
            return draw(o.series, { opacity: 0.38, width: 1.3, aside: true, ...(o.dash?.length ? { dash: o.dash } : {}) });
          }),
          ...(own && own.times.length > 0 ? [draw(own, {})] : []),
        ];
        return {
          id,
          node,
          color,
          label: (node.difference ? "Δ " : "") + (info?.view.label ?? node.signal),
          unit: info?.view.unit ?? "",
          recorded: info?.view.recorded ?? "",
          read: (value: number) => value * scale + shift,
          lines: node.hidden ? [] : lines,
          series: own,
          others,
        };
      }),
    [tile, curves, infos, run, overlays, runColors, bands, runs, reference, traces],
  );
}

/** The value of a series at an instant as it is read; NaN where there is none. */
export const readAt = (shown: Pick<Shown, "read">, series: Series | undefined, time: number | null): number =>
  series && time !== null && series.times.length > 0 ? shown.read(valueAt(series, time)) : NaN;
