import { memo } from "react";
import type { Point } from "../state/document";
import { pathData } from "./geometry";

interface WireProps {
  id: string;
  points: Point[];
  selected: boolean;
  /** real, boolean, vector, bundle or a physical domain. */
  kind: string;
  label: string;
  /** Number of signals of a vector, where this wire says it for all of its source. */
  count: number;
}

const signals = ["real", "boolean", "vector", "bundle", "any"];

/** One wire: a visible line and a wide invisible one to catch the pointer. */
export const Wire = memo(function Wire({ id, points, selected, kind, label, count }: WireProps) {
  const d = pathData(points);
  const signal = signals.includes(kind);
  const slash = kind === "vector" && count > 0 ? middle(points, 24, 16) : null;
  return (
    <g className={`wire ${selected ? "selected" : ""} ${signal ? kind : `physical ${kind}`}`} role="button" aria-label={label}>
      <path
        className="line"
        d={d}
        markerEnd={!signal || kind === "bundle" ? undefined : selected ? "url(#arrow-selected)" : "url(#arrow)"}
      />
      {(kind === "hydraulic" || kind === "bundle") && <path className="core" d={d} />}
      {slash && (
        <>
          <path className="slash" d={`M${slash.x - 4} ${slash.y + 6}l8 -12`} />
          <text className="count" x={slash.x + 7} y={slash.y - 5}>
            {count}
          </text>
        </>
      )}
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

/** A signal's name, its probe and its values at the time bar, on a stretch that has room for them. */
export const SignalTag = memo(function SignalTag({
  points,
  name,
  value,
  flow,
  flowsOn,
  leftwards,
  color,
}: {
  points: Point[];
  name: string;
  value: string;
  /** Size of the flow of a physical connection, and whether it goes the way the points go. */
  flow: string;
  flowsOn: boolean;
  /** Beside an upright stretch the values stand at its left. */
  leftwards: boolean;
  color: string | null;
}) {
  const width = (n: number) => Math.max(n * 6, 12);
  const spot = middle(points, width(name.length), 28);
  const place = value ? middle(points, width(Math.max(value.length, flow.length + 2)), 28 + (flow ? 14 : 0) + (name ? 14 : 0)) : null;
  const lines = place && flow ? [value, `${arrow(place.heading, flowsOn)} ${flow}`] : [value];
  return (
    <g className="signal-tag" pointerEvents="none">
      {spot && color && <circle cx={spot.x} cy={spot.y} r="5" fill={color} stroke="var(--paper)" strokeWidth="2" />}
      {spot && name && spot.room && (
        <text x={spot.x + (spot.vertical ? 7 : 0)} y={spot.y + (spot.vertical ? 0 : -7)} textAnchor={spot.vertical ? "start" : "middle"}>
          {name}
        </text>
      )}
      {place?.room &&
        lines.map((line, i) => (
          <text
            key={i}
            className="value"
            x={place.x + (place.vertical ? (leftwards ? -7 : 7) : 0)}
            y={place.vertical ? place.y + (name ? 14 : 4) + 11 * (i - (lines.length - 1) / 2) : i === 0 ? place.y + 14 : place.y - 6}
            textAnchor={place.vertical ? (leftwards ? "end" : "start") : "middle"}
          >
            {line}
          </text>
        ))}
    </g>
  );
});

type Spot = Point & { vertical: boolean; room: boolean; heading: number };

/** The arrow of a flow on a stretch that goes right (0), down (1), left (2) or up (3). */
const arrow = (heading: number, on: boolean) => "→↓←↑"[(heading + (on ? 0 : 2)) % 4];

/** A stretch with room for a text: the first level one that is long enough, else the longest. */
function middle(points: Point[], wanted: number, height: number): Spot | null {
  let best: Spot | null = null;
  let longest = 0;
  for (let i = 1; i < points.length; i++) {
    const a = points[i - 1] as Point;
    const b = points[i] as Point;
    const length = Math.abs(a.x - b.x) + Math.abs(a.y - b.y);
    const vertical = a.x === b.x;
    const room = vertical ? length > height : length > wanted;
    const heading = vertical ? (b.y > a.y ? 1 : 3) : b.x > a.x ? 0 : 2;
    const spot = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, vertical, room, heading };
    if (room && !vertical) return spot;
    if (length > longest || (room && !best?.room)) {
      best = spot;
      longest = length;
    }
  }
  return best;
}
