/** Where the cells of a run strip lie: lines of cells, one a run, as large as there is room for. */
export interface StripLayout {
  columns: number;
  lines: number;
  /** Width and height of a cell with the gap behind it. */
  width: number;
  height: number;
}

const WIDEST = 84;
const GAP = 2;
const TALLEST = 20;

export function layoutStrip(count: number, width: number, height: number): StripLayout {
  if (count === 0 || width <= 0 || height <= 0) return { columns: 1, lines: 0, width: WIDEST, height: TALLEST };
  // The fewest lines whose cells are not much narrower than high, so that single runs can be told apart.
  let lines = 1;
  while (lines * 5 < height && width / Math.ceil(count / lines) < Math.min(TALLEST, height / lines) / 3) lines++;
  let columns = Math.ceil(count / lines);
  // Whole tens are easier to count.
  if (lines > 1 && columns > 20) columns = Math.ceil(columns / 10) * 10;
  lines = Math.ceil(count / columns);
  return { columns, lines, width: Math.min(WIDEST, width / columns), height: Math.min(TALLEST, height / lines) };
}

export const cellAt = (l: StripLayout, index: number) => ({
  x: (index % l.columns) * l.width,
  y: Math.floor(index / l.columns) * l.height,
  width: Math.max(0.6, l.width - (l.width > 5 ? GAP : l.width > 2.5 ? 1 : 0)),
  height: Math.max(1, l.height - (l.height > 6 ? GAP + 1 : 1)),
});

/** The run at a place; null beside all. */
export function indexAt(l: StripLayout, count: number, x: number, y: number): number | null {
  const [column, line] = [Math.floor(x / l.width), Math.floor(y / l.height)];
  if (column < 0 || column >= l.columns || line < 0) return null;
  const index = line * l.columns + column;
  return index < count ? index : null;
}
