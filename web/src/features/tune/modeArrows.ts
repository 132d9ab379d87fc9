import type { Schemas } from "../../api/client";

type State = Schemas["ModeView"]["states"][number];

export interface Arrow {
  /** Of the largest of its kind. */
  size: number;
  /** Radians. */
  phase: number;
}

/** Moves below this part of the largest are no arrows. */
const LEAST = 0.02;

const sizeOf = (s: State) => Math.hypot(Number(s.re), Number(s.im));

/** For each part of a level the largest motion in it. Only states of one kind, as speeds, can be compared: each is over the largest of
 * those that are called alike. */
export function arrowsOf(states: readonly State[], level: string): Map<string, Arrow> {
  const kind = (s: State) => s.state.split(".").at(-1) ?? "";
  const most = new Map<string, number>();
  for (const s of states) most.set(kind(s), Math.max(most.get(kind(s)) ?? 0, sizeOf(s)));
  const arrows = new Map<string, Arrow>();
  const largest = Math.max(...states.map((s) => Number(s.share)), 0);
  for (const s of states) {
    const inside = level === "" ? s.part : s.part?.startsWith(`${level}/`) ? s.part.slice(level.length + 1) : null;
    const id = inside?.split("/")[0];
    // What takes no part in the mode is not shown, however large it is in its own unit.
    if (!id || Number(s.share) < LEAST * largest) continue;
    const size = sizeOf(s) / (most.get(kind(s)) || 1);
    if (size >= LEAST && size > (arrows.get(id)?.size ?? 0)) arrows.set(id, { size, phase: Math.atan2(Number(s.im), Number(s.re)) });
  }
  return arrows;
}

const FRAMES = 24;

/** How an arrow of a phase is stretched through one turn, from its present place on. */
export const swing = (phase: number): number[] =>
  Array.from({ length: FRAMES + 1 }, (_, k) => Number(Math.cos(phase + (2 * Math.PI * k) / FRAMES).toFixed(3)));
