import type { Frame } from "../api/hub";

/** How long frames wait at most where nothing is drawn, as in a window that nobody sees, in milliseconds. */
const LONGEST = 500;

/** Two frames of one run as one: all points of both, and where it is in the later one. */
export function joined(earlier: Frame, later: Frame): Frame {
  const curves = new Map(earlier.curves.map((c) => [c.signal, c]));
  for (const { signal, times, values } of later.curves) {
    const before = curves.get(signal);
    curves.set(
      signal,
      before ? { signal, times: [...before.times, ...times], values: [...before.values, ...values] } : { signal, times, values },
    );
  }
  return { ...later, curves: [...curves.values()], verdicts: later.verdicts ?? earlier.verdicts };
}

/**
 * Takes frames as they come and shows them when the window is drawn next, together. Where drawing is slower than the run tells, as on a busy
 * machine, frames would otherwise queue up, and a pause would be seen long after it was made.
 */
export function atNextDrawing(show: (frame: Frame) => void): (frame: Frame) => void {
  const waiting = new Map<string, Frame>();
  let stop: (() => void) | null = null;
  const flush = () => {
    stop?.();
    stop = null;
    const frames = [...waiting.values()];
    waiting.clear();
    frames.forEach(show);
  };
  return (frame) => {
    const before = waiting.get(frame.run);
    waiting.set(frame.run, before ? joined(before, frame) : frame);
    if (stop) return;
    const drawing = requestAnimationFrame(flush);
    const timer = setTimeout(flush, LONGEST);
    stop = () => {
      cancelAnimationFrame(drawing);
      clearTimeout(timer);
    };
  };
}
