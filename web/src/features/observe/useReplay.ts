import { useCallback, useEffect, useRef, useState } from "react";
import { useBench } from "../../state/bench";
import { setTime } from "../../state/runs";

/** Moves the time bar over the run at a speed, from where it stands; at its end from the beginning. */
export function useReplay(start: number, end: number) {
  const [isPlaying, setPlaying] = useState(false);
  const [speed, setSpeed] = useState(1);
  const pace = useRef(speed);
  pace.current = speed;
  const frame = useRef(0);
  const ended = useRef<(() => void) | null>(null);
  const stop = useCallback(() => {
    cancelAnimationFrame(frame.current);
    setPlaying(false);
    ended.current?.();
    ended.current = null;
  }, []);
  useEffect(() => stop, [stop]);
  const play = useCallback(
    (whole = false) =>
      new Promise<void>((done) => {
        cancelAnimationFrame(frame.current);
        ended.current = done;
        const now = useBench.getState().time;
        let time = whole || now === null || now >= end ? start : now;
        let last = performance.now();
        setPlaying(true);
        setTime(time);
        const step = (at: number) => {
          time += ((at - last) / 1000) * pace.current;
          last = at;
          setTime(Math.min(end, time));
          if (time >= end) stop();
          else frame.current = requestAnimationFrame(step);
        };
        frame.current = requestAnimationFrame(step);
      }),
    [start, end, stop],
  );
  return { isPlaying, speed, setSpeed, play, stop };
}
