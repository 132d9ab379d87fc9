import { ApiError } from "./client";

/** One signal's points: times and values of equal length; equal neighbouring times are the two sides of an event. */
export interface Series {
  times: Float64Array;
  values: Float64Array;
  /** Whether the run has not kept it, but can recover it. */
  missing?: boolean;
}

const empty: Series = { times: new Float64Array(0), values: new Float64Array(0) };

/** Fetches traces reduced to a width in pixels. The format is described at the server's endpoint. */
export async function fetchTraces(
  run: string,
  signals: readonly string[],
  from: number | null,
  to: number | null,
  width: number,
  minus: string | null = null,
): Promise<Map<string, Series>> {
  if (signals.length === 0) return new Map();
  return fetchCurves(`/api/runs/${run}/traces`, { signal: signals, from, to, width: Math.round(width), minus });
}

/** Fetches curves in the binary form of traces from one of the server's addresses. */
export async function fetchCurves(
  address: string,
  parameters: Readonly<Record<string, string | number | readonly string[] | null>>,
): Promise<Map<string, Series>> {
  const result = new Map<string, Series>();
  const query = new URLSearchParams();
  for (const [name, value] of Object.entries(parameters))
    if (typeof value === "object" && value !== null) for (const v of value) query.append(name, v);
    else if (value !== null) query.set(name, String(value));
  const response = await fetch(`${address}?${query}`);
  if (response.status === 202) return result;
  if (!response.ok) throw new ApiError(response.status, "The traces of this run are gone.", "Run the model again.");
  const buffer = await response.arrayBuffer();
  const length = new DataView(buffer).getInt32(0, true);
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length))) as {
    signal: string;
    count: number;
    missing?: boolean;
  }[];
  let offset = Math.ceil((4 + length) / 8) * 8;
  for (const { signal, count, missing } of header) {
    if (count === 0) {
      result.set(signal, missing ? { ...empty, missing } : empty);
      continue;
    }
    const times = new Float64Array(buffer, offset, count);
    const values = new Float64Array(buffer, offset + 8 * count, count);
    result.set(signal, { times, values });
    offset += 16 * count;
  }
  return result;
}

/** The value at a time, linear between points; the right side of an event. */
export function valueAt(series: Series, time: number): number {
  const { times, values } = series;
  if (times.length === 0) return NaN;
  let low = 0;
  let high = times.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((times[middle] as number) <= time) low = middle + 1;
    else high = middle;
  }
  const i = Math.max(0, low - 1);
  const v = values[i] as number;
  if (i + 1 >= times.length || (times[i] as number) >= time) return v;
  const span = (times[i + 1] as number) - (times[i] as number);
  return v + (((values[i + 1] as number) - v) * (time - (times[i] as number))) / span;
}

/** A series with more points at its end; those that are not behind its last one are left out. */
export function extended(series: Series | undefined, times: readonly number[], values: readonly number[]): Series {
  const before = series ?? empty;
  const last = before.times.length > 0 ? (before.times[before.times.length - 1] as number) : -Infinity;
  // Both sides of an event have one time: the second one belongs behind the first.
  const first = times.findIndex((t) => t > last);
  if (first < 0) return before;
  return { times: followed(before.times, times.slice(first)), values: followed(before.values, values.slice(first)) };
}

function followed(before: Float64Array, more: readonly number[]): Float64Array {
  const all = new Float64Array(before.length + more.length);
  all.set(before);
  all.set(more, before.length);
  return all;
}
