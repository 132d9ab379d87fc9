import { useMemo } from "react";
import type { Series } from "../api/traces";

/** Size of curves that stand beside words. */
export const SMALL = { width: 46, height: 18 };

const AIR = 2;

/** The path of a curve as small as a word; empty where there is none. */
export function smallPath(curve: Series | undefined, { width, height } = SMALL): string {
  if (!curve || curve.times.length < 2) return "";
  const { times, values } = curve;
  const [from, to] = [times[0] as number, times[times.length - 1] as number];
  const finite = values.filter((v) => Number.isFinite(v));
  const [low, high] = [Math.min(...finite), Math.max(...finite)];
  const x = (t: number) => (((t - from) / (to - from || 1)) * width).toFixed(1);
  const y = (v: number) => (high > low ? height - AIR - ((v - low) / (high - low)) * (height - 2 * AIR) : height / 2).toFixed(1);
  let isJoined = false;
  let path = "";
  for (let i = 0; i < times.length; i++) {
    const v = values[i] as number;
    // Where nothing was measured the line is interrupted.
    if (Number.isFinite(v)) path += `${isJoined ? "L" : "M"}${x(times[i] as number)} ${y(v)}`;
    isJoined = Number.isFinite(v);
  }
  return path;
}

interface Props {
  curve: Series | undefined;
  color?: string | null;
  className?: string | undefined;
}

export function SmallCurve({ curve, color = null, className }: Props) {
  const path = useMemo(() => smallPath(curve), [curve]);
  return (
    <svg width={SMALL.width} height={SMALL.height} aria-hidden className={className}>
      <path d={path} style={color ? { stroke: color } : undefined} />
    </svg>
  );
}
