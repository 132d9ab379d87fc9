import type { Verdict } from "../../api/client";

/** What is missed at an instant, since when it was asked for. */
export interface Missed {
  key: string;
  name: string;
  from: number | null;
  at: number;
}

/** More marks than these would be a bar. */
const MOST = 200;

/** Everything that is missed, every occasion by itself. */
export const missedOf = (verdicts: readonly Verdict[]): Missed[] =>
  verdicts
    .flatMap((v) => (v.occasions?.length ? v.occasions : [v]))
    .flatMap((v, i) =>
      v.kind === "missed" && v.decides != null
        ? [{ key: `${v.id} ${i}`, name: v.name, from: v.at == null ? null : Number(v.at), at: Number(v.decides) }]
        : [],
    )
    .slice(0, MOST);
