import { memo } from "react";
import type { Point } from "../state/document";
import { pathData } from "./geometry";

interface WireProps {
  id: string;
  points: Point[];
  selected: boolean;
  /** real, boolean or a physical domain. */
  kind: string;
  label: string;
}

/** One wire: a visible line and a wide invisible one to catch the pointer. */
export const Wire = memo(function Wire({ id, points, selected, kind, label }: WireProps) {
  const d = pathData(points);
  const signal = kind === "real" || kind === "boolean";
  return (
    <g className={`wire ${selected ? "selected" : ""} ${signal ? kind : `physical ${kind}`}`} role="button" aria-label={label}>
      <path className="line" d={d} markerEnd={!signal ? undefined : selected ? "url(#arrow-selected)" : "url(#arrow)"} />
      {kind === "hydraulic" && <path className="core" d={d} />}
      <path className="catch" d={d} data-wire={id}>
        <title>{label}</title>
      </path>
    </g>
  );
});

export function Markers() {
  const shape = "M0 .8L8 4 0 7.2z";
  return (
    <defs>
      {(["arrow", "arrow-selected"] as const).map((id) => (
        <marker
          key={id}
          id={id}
          viewBox="0 0 8 8"
          refX="7.4"
          refY="4"
          markerWidth="7"
          markerHeight="7"
          markerUnits="userSpaceOnUse"
          orient="auto"
        >
          <path d={shape} fill={id === "arrow" ? "var(--ink)" : "var(--buoy)"} />
        </marker>
      ))}
    </defs>
  );
}

/** A signal's name, its probe and its value at the time bar, at the middle of its first long stretch. */
export const SignalTag = memo(function SignalTag({
  points,
  name,
  value,
  color,
}: {
  points: Point[];
  name: string;
  value: string | null;
  color: string | null;
}) {
  const spot = middle(points, Math.max(name.length * 6, 12));
  if (!spot) return null;
  return (
    <g className="signal-tag" pointerEvents="none">
      {color && <circle cx={spot.x} cy={spot.y} r="5" fill={color} stroke="var(--paper)" strokeWidth="2" />}
      {name && spot.room && (
        <text x={spot.x + (spot.vertical ? 7 : 0)} y={spot.y + (spot.vertical ? 0 : -7)} textAnchor={spot.vertical ? "start" : "middle"}>
          {name}
        </text>
      )}
      {value && (
        <text className="value" x={spot.x + (spot.vertical ? 7 : 0)} y={spot.y + 14} textAnchor={spot.vertical ? "start" : "middle"}>
          {value}
        </text>
      )}
    </g>
  );
});

/** A stretch with room for the name: the first level one that is long enough, else the longest. */
function middle(points: Point[], wanted: number): (Point & { vertical: boolean; room: boolean }) | null {
  let best: (Point & { vertical: boolean; room: boolean }) | null = null;
  let longest = 0;
  for (let i = 1; i < points.length; i++) {
    const a = points[i - 1] as Point;
    const b = points[i] as Point;
    const length = Math.abs(a.x - b.x) + Math.abs(a.y - b.y);
    const vertical = a.x === b.x;
    const room = vertical ? length > 28 : length > wanted;
    const spot = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, vertical, room };
    if (room && !vertical) return spot;
    if (length > longest || (room && !best?.room)) {
      best = spot;
      longest = length;
    }
  }
  return best;
}
