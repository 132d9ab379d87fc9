import classNames from "classnames/bind";
import { useEffect, useMemo, useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type Schemas } from "../../api/client";
import { fetchCurves, type Series } from "../../api/traces";
import { spanOf, type Line } from "../../plots/curves";
import { setPainter, type Pen } from "../../plots/pen";
import { Plot, type Range } from "../../plots/Plot";
import { useBench } from "../../state/bench";
import { shownRuns } from "../../state/observe";
import { setTile, stripOf, type Tile } from "../../state/plotSheets";
import { newId } from "../../state/document";
import { infoOf } from "../../state/signals";
import { format } from "../../ui/format";
import { tokens } from "../../ui/tokens";
import { useTileLines, type Shown } from "./useTileLines";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

interface Props {
  id: string;
  tile: Tile;
}

/** Something that the server computes for each shown run, anew when what it depends on changes. */
function usePerRun<T>(dependsOn: string, ask: (run: string) => Promise<T>): ReadonlyMap<string, T> {
  const [found, setFound] = useState<ReadonlyMap<string, T>>(new Map());
  const runs = useBench((s) => (s.run && s.run.state !== "running" ? shownRuns(s).join(" ") : ""));
  // A played run that stands has more than when it stood before.
  const reached = useBench((s) => (s.run && s.run.state !== "running" ? Number(s.run.reached) : 0));
  const latest = useRef(ask);
  latest.current = ask;
  useEffect(() => {
    let wanted = true;
    void Promise.all(
      runs
        .split(" ")
        .filter(Boolean)
        .map((run) =>
          latest.current(run).then(
            (value) => [[run, value] as const],
            () => [],
          ),
        ),
    ).then((all) => wanted && setFound(new Map(all.flat())));
    return () => {
      wanted = false;
    };
  }, [runs, reached, dependsOn]);
  return found;
}

/** Lines of what was computed, the present run's on top, each with the curve that it is of. */
function linesOf(
  shown: readonly Shown[],
  found: ReadonlyMap<string, ReadonlyMap<string, Series>>,
  present: string | null,
): { of: Shown; line: Line }[] {
  const colors = useBench.getState().runColors;
  return [...found]
    .sort(([a], [b]) => Number(a === present) - Number(b === present))
    .flatMap(([run, curves]) =>
      shown
        .filter((s) => !s.node.hidden)
        .flatMap((of) => {
          const series = curves.get(of.node.signal);
          const own = run === present ? undefined : colors.get(run);
          const aside = run === present || own ? {} : { opacity: 0.38, aside: true };
          return series ? [{ of, line: { x: series.times, y: series.values, color: own ?? of.color, ...aside } }] : [];
        }),
    );
}

/** Below plots that have no instants: what is drawn, and over what. */
const Foot = ({ shown, across }: { shown: readonly Shown[]; across?: string }) => (
  <div className={cx("foot")}>
    {shown.map((s) => (
      <span key={s.id} className={cx("foot-name", { off: s.node.hidden })}>
        <i style={{ borderTopColor: s.color }} />
        {s.label}
      </span>
    ))}
    {across && <span className={cx("across")}>{across}</span>}
  </div>
);

const Empty = ({ children }: { children: React.ReactNode }) => <div className={cx("tile-empty")}>{children}</div>;

/** Quantities against another one. */
export function AgainstTile({ id, tile }: Props) {
  const shown = useTileLines(tile);
  const { range, present, infos, time } = useBench(
    useShallow((s) => ({ range: s.range, present: s.run?.id ?? null, infos: s.infos, time: s.time })),
  );
  const signals = shown.map((s) => s.node.signal);
  const across = tile.abscissa ?? "";
  const found = usePerRun(JSON.stringify([across, signals, range]), (run) =>
    across && signals.length > 0
      ? fetchCurves(`/api/runs/${run}/against`, { x: across, signal: signals, from: range?.from ?? null, to: range?.to ?? null })
      : Promise.resolve(new Map<string, Series>()),
  );
  const info = infoOf(infos, across, tile.across?.unit);
  const [xScale, xShift] = [Number(info?.view.scale ?? 1), Number(info?.view.shift ?? 0)];
  const lines = useMemo(
    () =>
      linesOf(shown, found, present).map(({ of, line }) => ({
        ...line,
        x: Array.from(line.x, (v) => v * xScale + xShift),
        y: Array.from(line.y, of.read),
      })),
    [shown, found, present, xScale, xShift],
  );
  const [zoom, setZoom] = useState<{ x: Range; y: Range | null } | null>(null);
  const axis = stripOf(tile, 0).left;
  const instant = useInstant(shown, across, time, xScale, xShift);
  if (!across) return <Empty>Drag the signal for the bottom here, or choose it under “Axis”.</Empty>;
  const whole = spanOf(lines, tile.across?.logarithmic === true);
  const air = 0.03 * (whole[1] - whole[0]);
  return (
    <>
      <Plot
        label={`${shown.map((s) => s.label).join(", ")} against ${info?.view.label ?? across}`}
        lines={lines}
        x={zoom?.x ?? [whole[0] - air, whole[1] + air]}
        y={zoom?.y ?? (axis.from !== undefined && axis.to !== undefined ? [axis.from, axis.to] : undefined)}
        unit={shown[0]?.unit ?? ""}
        xUnit={info?.view.unit ?? ""}
        showX
        onZoom={(x, y) => setZoom({ x, y: y ?? zoom?.y ?? null })}
        onFit={() => setZoom(null)}
        pins={[...Object.values(tile.pins), ...instant]}
        onPin={(x, y) => setTile(id, "Pin a note", { pins: { ...tile.pins, [newId("n")]: { x, y, strip: 0, text: "Note" } } })}
      />
      <Foot shown={shown} across={`${info?.view.label ?? across} ${info?.view.unit ?? ""}`} />
    </>
  );
}

/** Where the present run stands at the time bar, as a point. */
function useInstant(shown: readonly Shown[], across: string, time: number | null, scale: number, shift: number) {
  const curve = useBench((s) => (s.run ? s.curves.get(s.run.id)?.get(across) : undefined));
  return useMemo(() => {
    if (time === null || !curve || curve.times.length === 0) return [];
    const x = at(curve, time) * scale + shift;
    return shown.flatMap((s) =>
      s.series && s.series.times.length > 0 ? [{ x, y: s.read(at(s.series, time)), text: `${format(time)} s` }] : [],
    );
  }, [shown, curve, time, scale, shift]);
}

function at({ times, values }: Series, time: number): number {
  let i = times.findIndex((t) => t > time);
  if (i < 0) i = times.length;
  return values[Math.max(0, i - 1)] as number;
}

/** Amplitudes or densities over frequency. */
export function SpectrumTile({ tile }: Props) {
  const shown = useTileLines(tile);
  const { range, present } = useBench(useShallow((s) => ({ range: s.range, present: s.run?.id ?? null })));
  const signals = shown.map((s) => s.node.signal);
  const { window, averages, form } = tile.spectrum ?? { window: "hann", averages: 1, form: "amplitude" };
  const [from, to] = [tile.spectrum?.from ?? range?.from ?? null, tile.spectrum?.to ?? range?.to ?? null];
  const found = usePerRun(JSON.stringify([signals, from, to, window, averages, form]), (run) =>
    signals.length > 0
      ? fetchCurves(`/api/runs/${run}/spectrum`, { signal: signals, from, to, window, averages: Number(averages), form })
      : Promise.resolve(new Map<string, Series>()),
  );
  const isLog = tile.across?.logarithmic !== false;
  const axis = stripOf(tile, 0).left;
  const lines = useMemo(() => {
    return linesOf(shown, found, present).map(({ of, line }) => {
      const scale = of.read(1) - of.read(0);
      // A density goes with the square of the unit.
      return { ...line, scale: form === "density" ? scale * scale : Math.abs(scale) };
    });
  }, [shown, found, present, form]);
  const [zoom, setZoom] = useState<{ x: Range; y: Range | null } | null>(null);
  const unit = shown[0]?.unit ?? "";
  return (
    <>
      <Plot
        label={`Spectrum of ${shown.map((s) => s.label).join(", ")}`}
        lines={lines}
        x={zoom?.x ?? spanOf(lines, isLog)}
        y={zoom?.y ?? (axis.from !== undefined && axis.to !== undefined ? [axis.from, axis.to] : undefined)}
        logX={isLog}
        logY
        unit={form === "density" ? `${unit}²/Hz` : unit}
        xUnit="Hz"
        showX
        onZoom={(x, y) => (!isLog || x[0] > 0) && setZoom({ x, y: y ?? zoom?.y ?? null })}
        onFit={() => setZoom(null)}
      />
      <Foot shown={shown} across={`frequency, Hz · ${window}${Number(averages) > 1 ? `, ${averages} averages` : ""}`} />
    </>
  );
}

/** Shares of the time that signals spend in classes of their values. */
export function HistogramTile({ tile }: Props) {
  const shown = useTileLines(tile);
  const range = useBench((s) => s.range);
  const first = shown[0];
  const signal = first?.node.signal ?? "";
  const found = usePerRun(JSON.stringify([signal, range]), (run) =>
    signal
      ? ask(
          api.GET("/api/runs/{id}/histogram", {
            params: { path: { id: run }, query: { signal, ...(range ? { from: range.from, to: range.to } : {}) } },
          }),
        )
      : Promise.resolve(null),
  );
  const present = useBench((s) => s.run?.id ?? null);
  const lines = useMemo(
    () =>
      [...found].flatMap(([run, h]): Line[] => {
        if (!h || !first) return [];
        const edges = h.edges.map((e) => first.read(Number(e)));
        const x = edges.flatMap((e, i) => (i === 0 || i === edges.length - 1 ? [e] : [e, e]));
        const y = h.shares.flatMap((s) => [100 * Number(s), 100 * Number(s)]);
        return [{ x, y, color: first.color, ...(run === present ? {} : { opacity: 0.38, aside: true }) }];
      }),
    [found, first, present],
  );
  if (!first) return <Empty>Drag a signal here.</Empty>;
  const [low, high] = spanOf(lines, false);
  return (
    <>
      <Plot label={`Histogram of ${first.label}`} lines={lines} x={[low, high]} unit="% of time" xUnit={first.unit} showX />
      <Foot shown={[first]} />
    </>
  );
}

/** Amplitudes over orders of a shaft's speed, one line a stretch of turns, darker where larger. */
export function OrdersTile({ tile }: Props) {
  const shown = useTileLines(tile);
  const range = useBench((s) => s.range);
  const signal = shown[0]?.node.signal ?? "";
  const speed = tile.abscissa ?? "";
  const canvas = useRef<HTMLCanvasElement>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const found = usePerRun(JSON.stringify([signal, speed, range]), async (run): Promise<Schemas["OrderMapView"] | null> => {
    if (!signal || !speed) return null;
    try {
      const query = { signal, speed, ...(range ? { from: range.from, to: range.to } : {}) };
      const map = await ask(api.GET("/api/runs/{id}/orders", { params: { path: { id: run }, query } }));
      setProblem(null);
      return map;
    } catch (e) {
      setProblem((e as Error).message);
      return null;
    }
  });
  const present = useBench((s) => s.run?.id ?? "");
  const map = found.get(present);
  useEffect(() => {
    if (map && map.speeds.length > 0 && canvas.current) showOrders(canvas.current, map);
  });
  if (!signal || !speed) return <Empty>Drag a signal here, and choose the shaft’s speed under “Axis”.</Empty>;
  if (problem) return <Empty>{problem}</Empty>;
  if (map && map.speeds.length === 0) return <Empty>The run holds nothing of this stretch yet.</Empty>;
  return (
    <div className={cx("orders")}>
      <div className={cx("map")}>
        <canvas ref={canvas} role="img" aria-label={`Orders of ${shown[0]?.label ?? ""}`} />
      </div>
      <Foot shown={shown.slice(0, 1)} across="order of the speed · time upwards, with the speed in rad/s" />
    </div>
  );
}

/** Draws the map on the screen, and lets pictures draw it again. */
function showOrders(canvas: HTMLCanvasElement, map: Schemas["OrderMapView"]): void {
  const box = canvas.parentElement?.getBoundingClientRect();
  const g = canvas.getContext("2d");
  if (!box || !g) return;
  const ratio = window.devicePixelRatio || 1;
  [canvas.width, canvas.height] = [Math.round(box.width * ratio), Math.round(box.height * ratio)];
  [canvas.style.width, canvas.style.height] = [`${box.width}px`, `${box.height}px`];
  g.setTransform(ratio, 0, 0, ratio, 0, 0);
  paintOrders(g, box.width, box.height, map);
  setPainter(canvas, (pen, width, height) => paintOrders(pen, width, height, map));
}

function paintOrders(g: Pen, width: number, height: number, map: Schemas["OrderMapView"]): void {
  const [left, right, top, bottom] = [62, width - 14, 8, height - 22];
  const highest = Math.max(...map.amplitudes.map((row) => Math.max(...row.slice(1).map(Number))), 1e-300);
  const lines = map.speeds.length;
  const orders = map.orders.length;
  g.font = '10.5px "IBM Plex Mono"';
  for (let i = 0; i < lines; i++) {
    const y = bottom - ((i + 1) / lines) * (bottom - top);
    for (let k = 1; k < orders; k++) {
      // Three decades from paper to ink.
      const level = 1 + Math.log10(Math.max(Number(map.amplitudes[i]?.[k]) / highest, 1e-3)) / 3;
      if (level <= 0.02) continue;
      g.fillStyle = tokens.ink;
      g.globalAlpha = level;
      const x = left + ((k - 0.5) / (orders - 1)) * (right - left);
      g.fillRect(x, y, (right - left) / (orders - 1) + 0.5, (bottom - top) / lines + 0.5);
    }
  }
  g.globalAlpha = 1;
  g.fillStyle = tokens.quiet;
  g.textAlign = "right";
  for (const i of [0, Math.floor((lines - 1) / 2), lines - 1])
    g.fillText(format(Number(map.speeds[i]), 3), left - 7, bottom - ((i + 0.5) / lines) * (bottom - top) + 4);
  g.textAlign = "center";
  const last = Number(map.orders[orders - 1]);
  for (let order = 0; order <= last; order += last > 20 ? 5 : last > 8 ? 2 : 1)
    g.fillText(String(order), left + (order / last) * (right - left), bottom + 14);
  g.strokeStyle = tokens.dashes;
  g.strokeRect(left + 0.5, top + 0.5, right - left - 1, bottom - top);
}
