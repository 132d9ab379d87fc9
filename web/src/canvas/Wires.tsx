import classNames from "classnames/bind";
import { memo } from "react";
import type { Point } from "../state/document";
import { pathData } from "./geometry";
import { middle, type Spot, type TextSide } from "./tagPlaces";
import styles from "./canvas.module.css";

const cx = classNames.bind(styles);

interface WireProps {
  id: string;
  points: Point[];
  selected: boolean;
  /** real, boolean, vector, bundle or a physical domain. */
  kind: string;
  label: string;
  /** Whether one of its ends is left out of the model. */
  leftOut: boolean;
  /** Number of signals of a vector, where this wire says it for all of its source. */
  count: number;
  /** Whether its signal has been given a fault, and whether one is active; null for none. */
  fault: "given" | "active" | null;
}

const signals = ["real", "boolean", "vector", "bundle", "any"];

/** One wire: a visible line and a wide invisible one to catch the pointer. */
export const Wire = memo(function Wire({ id, points, selected, kind, label, leftOut, count, fault }: WireProps) {
  const d = pathData(points);
  const signal = signals.includes(kind);
  const struck = fault ? middle(points, 24, 10) : null;
  const slash = kind === "vector" && count > 0 ? middle(points, 24, 16) : null;
  return (
    <g className={cx("wire", kind, { selected, physical: !signal, "left-out": leftOut })} role="img" aria-label={label}>
      <path
        className={cx("line")}
        d={d}
        markerEnd={!signal || kind === "bundle" ? undefined : selected ? "url(#arrow-selected)" : "url(#arrow)"}
      />
      {(kind === "hydraulic" || kind === "fluid" || kind === "plane" || kind === "bundle") && <path className={cx("core")} d={d} />}
      {slash && (
        <>
          <path className={cx("slash")} d={`M${slash.x - 4} ${slash.y + 6}l8 -12`} />
          <text className={cx("count")} x={slash.x + 7} y={slash.y - 5}>
            {count}
          </text>
        </>
      )}
      {struck && (
        <path
          className={cx("fault", fault)}
          d={`M${struck.x - 6} ${struck.y}l6 -6 6 6 -6 6z`}
          role="img"
          aria-label={fault === "active" ? "A fault is active" : "Has a fault"}
        />
      )}
      <path className={cx("catch")} d={d} data-wire={id}>
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
export function SignalTag({
  name,
  value,
  flow,
  flowsOn,
  color,
  spot,
  place,
  side,
  curve,
}: {
  name: string;
  value: string;
  /** Size of the flow of a physical connection, and whether it goes the way the points go. */
  flow: string;
  flowsOn: boolean;
  color: string | null;
  /** Where the name and the probe stand. */
  spot: Spot | null;
  /** Where the values stand, and on which side of the wire; null where they would cover something. */
  place: Spot | null;
  side: TextSide | null;
  /** A small curve with where it stands, and how far along it the time bar is. */
  curve: { x: number; y: number; width: number; height: number; path: string; at: number | null } | null;
}) {
  const lines = place && flow ? [value, `${arrow(place.heading, flowsOn)} ${flow}`] : [value];
  return (
    <g className={cx("signal-tag")} pointerEvents="none">
      {curve && (
        <g className={cx("wire-curve")} transform={`translate(${curve.x} ${curve.y})`}>
          <rect width={curve.width} height={curve.height} />
          <path d={curve.path} style={color ? { stroke: color } : undefined} />
          {curve.at !== null && <line x1={curve.at * curve.width} x2={curve.at * curve.width} y2={curve.height} />}
        </g>
      )}
      {spot && color && <circle cx={spot.x} cy={spot.y} r="5" fill={color} stroke="var(--paper)" strokeWidth="2" />}
      {spot && name && spot.room && (
        <text x={spot.x + (spot.vertical ? 7 : 0)} y={spot.y + (spot.vertical ? 0 : -7)} textAnchor={spot.vertical ? "start" : "middle"}>
          {name}
        </text>
      )}
      {place?.room &&
        side &&
        lines.map((line, i) => (
          <text
            key={i}
            className={cx("value", "result")}
            x={place.x + (side === "left" ? -7 : side === "right" ? 7 : 0)}
            y={
              place.vertical
                ? place.y + (name ? 14 : 4) + 11 * (i - (lines.length - 1) / 2)
                : (i === 0) === (side === "below")
                  ? place.y + 14
                  : place.y - 6
            }
            textAnchor={side === "left" ? "end" : side === "right" ? "start" : "middle"}
          >
            {line}
          </text>
        ))}
    </g>
  );
}

/** The arrow of a flow on a stretch that goes right (0), down (1), left (2) or up (3). */
const arrow = (heading: number, on: boolean) => "→↓←↑"[(heading + (on ? 0 : 2)) % 4];
