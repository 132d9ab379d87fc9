/** The colours of Okabe and Ito, told apart with any colour vision; then dashes. */
export const PALETTE = ["#0072B2", "#E69F00", "#009E73", "#CC79A7", "#D55E00", "#56B4E9", "#5B6E80", "#B8A800"] as const;

/** The colour of the plotted signal at a place in the order of all. */
export const signalColor = (position: number): string => PALETTE[(position < 0 ? 0 : position) % PALETTE.length] as string;

export const signalDash = (position: number): number[] => (position >= PALETTE.length ? [5, 3] : []);

const strokes = [[], [7, 3], [2, 3], [9, 3, 2, 3]];

/** The dashes of a signal among those of one strip, where colours tell runs apart. */
export const memberDash = (place: number): number[] => strokes[place % strokes.length] as number[];
