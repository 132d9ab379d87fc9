/** After this many ms without another picture, nothing moves any more. */
export const REST = 150;

/** Pictures that take longer than this many ms each are too slow to be smoothed. */
const SLOW = 30;

/** So many pictures are looked at together. */
const TOGETHER = 6;

/** Tells whether pictures follow each other too slowly, from when each one was begun; at rest there is time for anything. */
export class Haste {
  private begun: number[] = [];
  private isSlow = false;

  /** Whether the picture that is begun at an instant, in ms, should be drawn in haste. */
  begin(at: number): boolean {
    const last = this.begun.at(-1);
    if (last === undefined || at - last > REST) {
      this.begun = [];
      this.isSlow = false;
    }
    this.begun = [...this.begun.slice(1 - TOGETHER), at];
    const [first = at] = this.begun;
    if (this.begun.length === TOGETHER && (at - first) / (TOGETHER - 1) > SLOW) this.isSlow = true;
    return this.isSlow;
  }
}
