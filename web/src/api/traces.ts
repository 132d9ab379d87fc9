import { ApiError } from "./client";

/** One signal's points: times and values of equal length; equal neighbouring times are the two sides of an event. */
export interface Series {
  times: Float64Array;
  values: Float64Array;
}

const empty: Series = { times: new Float64Array(0), values: new Float64Array(0) };

/** Fetches traces reduced to a width in pixels. The format is described at the server's endpoint. */
export async function fetchTraces(
  run: string,
  signals: string[],
  from: number | null,
  to: number | null,
  width: number,
): Promise<Map<string, Series>> {
  const result = new Map<string, Series>();
  if (signals.length === 0) return result;
  const query = new URLSearchParams({ width: String(Math.round(width)) });
  for (const s of signals) query.append("signal", s);
  if (from !== null) query.set("from", String(from));
  if (to !== null) query.set("to", String(to));
  const response = await fetch(`/api/runs/${run}/traces?${query}`);
  if (response.status === 202) return result;
  if (!response.ok) throw new ApiError(response.status, "The traces of this run are gone.", "Run the model again.");
  const buffer = await response.arrayBuffer();
  const length = new DataView(buffer).getInt32(0, true);
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length))) as { signal: string; count: number }[];
  let offset = Math.ceil((4 + length) / 8) * 8;
  for (const { signal, count } of header) {
    if (count === 0) {
      result.set(signal, empty);
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
