import { copySelected, paste, removeSelected, type Clip } from "./edits";

/** What was copied last, on any level of any model that this window had open. */
let clip: Clip | null = null;

export function copy(): void {
  clip = copySelected();
}

export function cut(): void {
  copy();
  removeSelected();
}

export const canPaste = (): boolean => clip !== null;

/** Pastes beside where it was copied. */
export function pasteCopied(): void {
  if (clip) paste(clip, DISTANCE, DISTANCE);
}

export const duplicate = () => paste(copySelected(), DISTANCE, DISTANCE, "Duplicate");

const DISTANCE = 32;
