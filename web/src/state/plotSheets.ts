import type { Schemas } from "../api/client";
import { useBench, type BenchState } from "./bench";
import { newId, pointer, probesOf, type ModelDocument, type Operation } from "./document";
import { edit } from "./model";
import { noteRecent } from "./signals";

/** Sheets of plots as data: what they hold, and edits of them. Each is one undo step. */

export type PlotSheet = Schemas["PlotSheetNode"];
export type Tile = Schemas["TileNode"];
export type TileKind = Schemas["TileKind"];
export type Curve = Schemas["CurveNode"];
export type Response = Schemas["ResponseNode"];
export type Axis = Schemas["AxisNode"];

/** Columns of the grid, and rows that fill a screen of usual height. */
export const COLUMNS = 12;
export const ROWS = 18;

/** Seconds in what time can be read in. */
export const TIME_UNITS: Readonly<Record<string, number>> = { ms: 1e-3, s: 1, min: 60, h: 3600, d: 86_400 };

const get = useBench.getState;

/** The sheet of a model that has none of its own: what is plotted, in its strips. */
export const PLOTTED = "plotted";

export const freshAxis = (): Axis => ({ logarithmic: false });
export const freshTile = (kind: TileKind, more: Partial<Tile> = {}): Tile => ({
  kind,
  x: 0,
  y: 0,
  width: COLUMNS,
  height: 6,
  curves: {},
  strips: [],
  pins: {},
  views: [],
  ...more,
});
export const freshCurve = (signal: string, more: Partial<Curve> = {}): Curve => ({
  signal,
  strip: 0,
  onRight: false,
  factor: 1,
  offset: 0,
  steps: false,
  hidden: false,
  difference: false,
  ...more,
});

/** What is plotted on the diagram, as a sheet. */
function plottedSheet(model: ModelDocument): PlotSheet {
  const probes = probesOf(model);
  const strips = [...new Set(probes.map((p) => p.strip))];
  const curves = Object.fromEntries(probes.map((p, i) => [`c${i}`, freshCurve(p.reference, { strip: strips.indexOf(p.strip) })]));
  return { name: "Plotted", order: 0, tiles: { t0: freshTile("strips", { height: ROWS, curves }) } };
}

/** The sheets of a model in their order; that of what is plotted where there is no other. */
export function sheetsOf(model: ModelDocument): [string, PlotSheet][] {
  const own = Object.entries(model.plotSheets);
  if (own.length === 0) return [[PLOTTED, plottedSheet(model)]];
  return own.sort((a, b) => a[1].order - b[1].order);
}

/** The sheet that is shown. */
export function shownSheet(s: Pick<BenchState, "model" | "sheet">): [string, PlotSheet] {
  const sheets = sheetsOf(s.model);
  return sheets.find(([id]) => id === s.sheet) ?? (sheets[0] as [string, PlotSheet]);
}

/** Shows a sheet. */
export const showSheet = (sheet: string | null) => useBench.setState({ sheet, tile: null });

/** Changes the shown sheet; one that is only what is plotted becomes one of the model's own first. */
function change(label: string, operations: (sheet: string, node: PlotSheet) => Operation[]): void {
  const [id, node] = shownSheet(get());
  if (id !== PLOTTED) return edit(label, operations(id, node));
  const own = newId("g");
  const kept: PlotSheet = { ...node, name: "Sheet 1" };
  edit(label, [{ op: "add", path: pointer("plotSheets", own), value: kept }, ...operations(own, kept)]);
  useBench.setState({ sheet: own });
}

export function addSheet(tiles: Record<string, Tile> = {}, name?: string): string {
  const sheets = Object.entries(get().model.plotSheets);
  const id = newId("g");
  const order = Math.max(0, ...sheets.map(([, s]) => s.order)) + 1;
  const value: PlotSheet = { name: name ?? `Sheet ${sheets.length + 1}`, order, tiles };
  edit("Add a sheet of plots", [{ op: "add", path: pointer("plotSheets", id), value }]);
  showSheet(id);
  return id;
}

/** A sheet with the responses of a linear system: gain and phase, its curve in the complex plane, its step. */
export function addResponseSheet(of: Omit<Response, "shows">): void {
  const spots = { gain: [0, 0], nyquist: [6, 0], phase: [0, 9], step: [6, 9] } as const;
  const tiles = Object.entries(spots).map(([shows, [x, y]], i) => [
    `t${i}`,
    freshTile("response", { x, y, width: 6, height: 9, response: { ...of, shows } }),
  ]);
  addSheet(Object.fromEntries(tiles) as Record<string, Tile>, "Response");
}

export const renameSheet = (id: string, name: string) =>
  edit("Rename a sheet of plots", [{ op: "replace", path: pointer("plotSheets", id, "name"), value: name }]);

export function removeSheet(id: string): void {
  edit("Remove a sheet of plots", [{ op: "remove", path: pointer("plotSheets", id) }]);
  showSheet(null);
}

/** Where a new tile of a size stands: below everything. */
export function freeSpot(node: PlotSheet, width: number, height: number): { x: number; y: number; width: number; height: number } {
  const taken = (x: number, y: number) =>
    Object.values(node.tiles).some((t) => x < t.x + t.width && t.x < x + width && y < t.y + t.height && t.y < y + height);
  for (let y = 0; ; y++) for (let x = 0; x + width <= COLUMNS; x++) if (!taken(x, y)) return { x, y, width, height };
}

const sizes: Record<TileKind, [number, number]> = {
  strips: [12, 8],
  against: [5, 7],
  spectrum: [7, 7],
  orders: [7, 7],
  histogram: [5, 6],
  table: [6, 5],
  number: [3, 3],
  bands: [12, 3],
  response: [6, 8],
  scene: [7, 10],
};

export function addTile(kind: TileKind, signals: readonly string[] = [], more: Partial<Tile> = {}): void {
  const tile = newId("t");
  change("Add a plot", (id, node) => {
    const curves = Object.fromEntries(signals.map((s) => [newId("c"), freshCurve(s)]));
    const value = freshTile(kind, { ...freeSpot(node, ...sizes[kind]), curves, ...more });
    return [{ op: "add", path: pointer("plotSheets", id, "tiles", tile), value }];
  });
  signals.forEach(noteRecent);
  useBench.setState({ tile: { id: tile, curve: null } });
}

export function removeTile(tile: string): void {
  change("Remove a plot", (id) => [{ op: "remove", path: pointer("plotSheets", id, "tiles", tile) }]);
  useBench.setState({ tile: null });
}

/** Members of a node as they are to be; one without a value goes. */
export const members = (path: string, values: object): Operation[] =>
  Object.entries(values).map(([key, value]) => {
    const member = path + pointer(key);
    return value === undefined ? { op: "remove", path: member } : { op: "add", path: member, value };
  });

/** Sets members of a tile. */
export const setTile = (tile: string, label: string, values: Partial<Tile>) =>
  change(label, (id) => members(pointer("plotSheets", id, "tiles", tile), values));

/** Says what a response tile is of. */
export const putResponse = (id: string, tile: Tile, values: Partial<Response>) =>
  setTile(id, "Change a response", {
    response: { from: "", to: "", open: [], points: [], shows: "gain", hertz: false, ...tile.response, ...values },
  });

export const setCurve = (tile: string, curve: string, values: Partial<Curve>) =>
  change("Change a curve", (id) => members(pointer("plotSheets", id, "tiles", tile, "curves", curve), values));

/** Adds a signal to a tile; in strips at the bottom of one, or in a new one. */
export function addCurve(tile: string, signal: string, more: Partial<Curve> = {}): void {
  change("Plot a signal", (id) => [
    { op: "add", path: pointer("plotSheets", id, "tiles", tile, "curves", newId("c")), value: freshCurve(signal, more) },
  ]);
  noteRecent(signal);
}

export function removeCurve(tile: string, curve: string): void {
  change("Remove a curve", (id, node) => {
    const rest = Object.entries(node.tiles[tile]?.curves ?? {}).filter(([c]) => c !== curve);
    // Strips that nothing stands in any more close up.
    const used = [...new Set(rest.map(([, c]) => c.strip))].sort((a, b) => a - b);
    return [
      { op: "remove", path: pointer("plotSheets", id, "tiles", tile, "curves", curve) },
      ...rest
        .filter(([, c]) => used.indexOf(c.strip) !== c.strip)
        .map(([c, v]): Operation => ({
          op: "replace",
          path: pointer("plotSheets", id, "tiles", tile, "curves", c, "strip"),
          value: used.indexOf(v.strip),
        })),
    ];
  });
  useBench.setState({ tile: { id: tile, curve: null } });
}

/** Plots a signal where a user would look for it: in the tile at hand, else in the first of strips, in a strip of its own. */
export function plotSignal(signal: string): void {
  const s = get();
  const [, node] = shownSheet(s);
  const at = s.tile && node.tiles[s.tile.id] ? s.tile.id : null;
  const target = at ?? Object.entries(node.tiles).find(([, t]) => t.kind === "strips")?.[0];
  const tile = target === undefined ? undefined : node.tiles[target];
  if (target === undefined || !tile) return addTile("strips", [signal]);
  if (Object.values(tile.curves).some((c) => c.signal === signal && !c.difference)) return;
  const strips = Math.max(-1, ...Object.values(tile.curves).map((c) => c.strip)) + 1;
  addCurve(target, signal, { strip: tile.kind === "strips" ? strips : 0 });
}

/** The axes of a strip; automatic ones where nothing is said. */
export const stripOf = (tile: Tile, index: number): Schemas["StripNode"] => tile.strips[index] ?? { left: freshAxis(), right: freshAxis() };

/** Says something of an axis. */
export function setAxis(tile: string, strip: number, side: "left" | "right", values: Partial<Axis>): void {
  const [, node] = shownSheet(get());
  const found = node.tiles[tile];
  if (!found) return;
  const strips = Array.from({ length: Math.max(found.strips.length, strip + 1) }, (_, i) => stripOf(found, i));
  const now = strips[strip] as Schemas["StripNode"];
  strips[strip] = { ...now, [side]: { ...now[side], ...values } };
  setTile(tile, "Change an axis", { strips });
}

/** All signals that a sheet shows, with the unit of their axis. */
export function signalsOf(node: PlotSheet): { signal: string; unit: string | null }[] {
  return Object.values(node.tiles).flatMap((t) => [
    ...Object.values(t.curves).map((c) => ({
      signal: c.signal,
      unit: (c.onRight ? stripOf(t, c.strip).right.unit : stripOf(t, c.strip).left.unit) ?? null,
    })),
    ...(t.response ? [t.response.from, t.response.to].filter(Boolean).map((signal) => ({ signal, unit: null })) : []),
    ...(t.abscissa ? [{ signal: t.abscissa, unit: t.across?.unit ?? null }] : []),
  ]);
}
