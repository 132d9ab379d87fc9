import type { ModelDocument } from "../state/document";

type Signals = Pick<ModelDocument, "signals">;

/** The colours of Okabe and Ito, told apart with any colour vision; then dashes. */
export const PALETTE = ["#0072B2", "#E69F00", "#009E73", "#CC79A7", "#D55E00", "#56B4E9", "#5B6E80", "#B8A800"] as const;

function position(document: Signals, key: string): number {
  return Object.entries(document.signals)
    .filter(([, s]) => s.probe !== undefined)
    .findIndex(([k]) => k === key);
}

export function signalColor(document: Signals, key: string): string {
  const i = position(document, key);
  return PALETTE[(i < 0 ? 0 : i) % PALETTE.length] as string;
}

export const signalDash = (document: Signals, key: string): number[] => (position(document, key) >= PALETTE.length ? [5, 3] : []);
