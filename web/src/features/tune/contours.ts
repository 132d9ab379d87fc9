import { contours } from "d3-contour";

export type Point = readonly [number, number];

/** Rows of a field over columns; null where nothing is known. */
export type Field = readonly (readonly (number | null)[])[];

/** Round values between the least and the largest of a field, at most so many, for lines of a map. */
export function levels(field: Field, most: number): number[] {
  const values = field.flat().filter((v): v is number => v !== null && Number.isFinite(v) && v > 0);
  if (values.length === 0) return [];
  const [low, high] = [Math.min(...values), Math.max(...values)];
  for (const mantissas of [[1, 1.5, 2, 3, 4, 5, 7], [1, 2, 3, 5], [1, 2, 5], [1, 3], [1]]) {
    const found: number[] = [];
    for (let e = Math.floor(Math.log10(low)); e <= Math.ceil(Math.log10(high)); e++)
      for (const m of mantissas) {
        const v = Number((m * 10 ** e).toPrecision(6));
        if (v > low && v < high) found.push(v);
      }
    if (found.length <= most || mantissas.length === 1) return found;
  }
  return [];
}

/** What is not known is given its nearest neighbour's value, so that lines end at its edge and do not run along it. */
export function filled(field: Field): number[][] {
  const rows = field.map((row) => row.map((_, x) => nearest(row, x)));
  const known = rows.map((row) => row.some((v) => v !== null));
  return rows.map((row, y) => {
    if (known[y]) return row as number[];
    let best = -1;
    for (let k = 0; k < rows.length; k++) if (known[k] && (best < 0 || Math.abs(k - y) < Math.abs(best - y))) best = k;
    return best < 0 ? row.map(() => 0) : (rows[best] as number[]);
  });
}

function nearest(row: readonly (number | null)[], x: number): number | null {
  for (let d = 0; d < row.length; d++)
    for (const at of [x - d, x + d]) {
      const v = row[at];
      if (v !== null && v !== undefined) return v;
    }
  return null;
}

/** Lines on which a field has a value, in columns and rows; what runs along the border is left out. */
export function lines(field: readonly (readonly number[])[], level: number): Point[][] {
  const [height, width] = [field.length, field[0]?.length ?? 0];
  // Between two values of a field that falls by powers the line is where the logarithm is halfway.
  const values = field.flatMap((row) => row.map((v) => Math.log(Math.max(v, Number.MIN_VALUE))));
  const found: Point[][] = [];
  for (const polygon of contours().size([width, height]).contour(values, Math.log(level)).coordinates)
    for (const ring of polygon) {
      let line: Point[] = [];
      for (const [cx, cy] of ring as unknown as Point[]) {
        const [x, y] = [cx - 0.5, cy - 0.5];
        const inside = x > 0 && y > 0 && x < width - 1 && y < height - 1;
        if (inside) line.push([x, y]);
        else if (line.length > 0) {
          if (line.length > 1) found.push(line);
          line = [];
        }
      }
      if (line.length > 1) found.push(line);
    }
  return found;
}

/** Outlines of the cells of a field that meet a condition, in columns and rows. */
export function areas(field: Field, meets: (v: number | null) => boolean): Point[][][] {
  const [height, width] = [field.length + 2, (field[0]?.length ?? 0) + 2];
  // One more cell all around, alike, so that an area goes on beyond the border.
  const at = (x: number, y: number) => {
    const row = field[Math.min(field.length - 1, Math.max(0, y))] ?? [];
    return row[Math.min(row.length - 1, Math.max(0, x))] ?? null;
  };
  let values: number[] = [];
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) values.push(meets(at(x - 1, y - 1)) ? 1 : 0);
  // A coast that is known by cells runs between them without steps.
  for (let round = 0; round < 2; round++) values = smoothed(values, width, height);
  return contours()
    .size([width, height])
    .contour(values, 0.5)
    .coordinates.map((polygon) => polygon.map((ring) => (ring as unknown as Point[]).map(([x, y]) => [x - 1.5, y - 1.5] as const)));
}

/** Each value with a share of its neighbours', along both directions. */
function smoothed(values: readonly number[], width: number, height: number): number[] {
  const along = (of: readonly number[], step: number, place: (i: number) => number, count: number) =>
    of.map((v, i) => {
      const [before, after] = [place(i) > 0 ? of[i - step] : v, place(i) < count - 1 ? of[i + step] : v];
      return (2 * v + (before as number) + (after as number)) / 4;
    });
  const rows = along(values, 1, (i) => i % width, width);
  return along(rows, width, (i) => Math.floor(i / width), height);
}
