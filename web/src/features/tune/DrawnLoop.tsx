import classNames from "classnames/bind";
import { useRef, type KeyboardEvent, type PointerEvent } from "react";
import { fromPixel, toPixel, type Scale } from "../../plots/scale";
import { drawLoop } from "../../state/tune";
import { format } from "../../ui/format";
import { byKey, moved, type DrawnPoint } from "./drawnPoints";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

interface Props {
  x: Scale;
  gain: Scale;
  points: readonly DrawnPoint[];
  put: (points: readonly DrawnPoint[]) => void;
}

/** The gain of the loop as it is drawn by hand: a press adds a point, points are dragged, moved with the arrow keys, and taken away. */
export function DrawnLoop({ x, gain, points, put }: Props) {
  const held = useRef<number | null>(null);
  const at = (e: PointerEvent<SVGElement>): DrawnPoint => {
    const box = (e.currentTarget.ownerSVGElement as SVGSVGElement).getBoundingClientRect();
    return { frequency: fromPixel(x, e.clientX - box.left), gain: fromPixel(gain, e.clientY - box.top) };
  };
  const change = (next: readonly DrawnPoint[]) => {
    put(next);
    drawLoop(next);
  };
  const add = (e: PointerEvent<SVGElement>) => {
    held.current = points.length;
    e.currentTarget.setPointerCapture(e.pointerId);
    change([...points, at(e)]);
  };
  const drag = (e: PointerEvent<SVGElement>) => {
    if (held.current !== null) change(moved(points, held.current, at(e)));
  };
  const key = (i: number) => (e: KeyboardEvent) => {
    const next = byKey(points, i, e.key);
    if (!next) return;
    e.preventDefault();
    e.stopPropagation();
    change(next);
  };
  const line = [...points]
    .sort((a, b) => a.frequency - b.frequency)
    .map((p) => `${toPixel(x, p.frequency)},${toPixel(gain, p.gain)}`)
    .join(" ");
  return (
    <g className={cx("drawn-loop")}>
      <rect
        x={x.start}
        y={gain.end}
        width={Math.max(0, x.end - x.start)}
        height={Math.max(0, gain.start - gain.end)}
        onPointerDown={add}
        onPointerMove={drag}
        onPointerUp={() => (held.current = null)}
        onMouseDown={(e) => e.preventDefault()}
      />
      <polyline points={line} />
      {points.map((p, i) => (
        <circle
          key={i}
          cx={toPixel(x, p.frequency)}
          cy={toPixel(gain, p.gain)}
          r={5}
          role="slider"
          tabIndex={0}
          aria-label={`Drawn gain ${i + 1}`}
          aria-valuenow={p.gain}
          aria-valuetext={`${format(p.gain, 3)} dB at ${format(p.frequency, 3)} rad/s`}
          onPointerDown={(e) => {
            held.current = i;
            e.currentTarget.setPointerCapture(e.pointerId);
          }}
          onPointerMove={drag}
          onPointerUp={() => (held.current = null)}
          onMouseDown={(e) => {
            // No text is marked while a point is dragged; the keys are its own all the same.
            e.preventDefault();
            e.currentTarget.focus();
          }}
          onDoubleClick={() => change(points.filter((_, k) => k !== i))}
          onKeyDown={key(i)}
        />
      ))}
    </g>
  );
}
