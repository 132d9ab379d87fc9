import type { Diagram } from "../state/document";

type Signals = Pick<Diagram, "signals">;

/** The colours of Okabe and Ito, told apart with any colour vision; then dashes. */
export const PALETTE = ["#0072B2", "#E69F00", "#009E73", "#CC79A7", "#D55E00", "#56B4E9", "#5B6E80", "#B8A800"] as const;

function position(diagram: Signals, key: string): number {
  return Object.entries(diagram.signals)
    .filter(([, s]) => s.probe !== undefined)
    .findIndex(([k]) => k === key);
}

export function signalColor(diagram: Signals, key: string): string {
  const i = position(diagram, key);
  return PALETTE[(i < 0 ? 0 : i) % PALETTE.length] as string;
}

export const signalDash = (diagram: Signals, key: string): number[] => (position(diagram, key) >= PALETTE.length ? [5, 3] : []);
