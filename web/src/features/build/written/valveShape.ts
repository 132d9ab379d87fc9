import type { Valve, ValvePath } from "../../../state/document";
import { inOrder } from "../../../state/tables";

/** Where the parts of a valve's symbol stand on the screen (ISO 1219-1: a square for each position). */

export const SQUARE = 128;
export const END = 84;
export const TOP = 72;
export const HEIGHT = TOP + SQUARE + 86;

export const widthOf = (valve: Valve) => 2 * END + SQUARE * Object.keys(valve.positions).length;

export const isTop = (valve: Valve, port: string) => valve.ports[port]?.side === "top";

/** A port's place at a square that begins at x. */
export const placeOf = (valve: Valve, along: Readonly<Record<string, number>>, x: number, port: string) => ({
  x: x + SQUARE * Number(along[port] ?? 0.5),
  y: isTop(valve, port) ? TOP : TOP + SQUARE,
});

/** Squares by their positions, from left to right. */
export const squaresOf = (valve: Valve): { id: string; x: number }[] =>
  inOrder(valve.positions).map(([id], i) => ({ id, x: END + i * SQUARE }));

interface Place {
  x: number;
  y: number;
}

/** The line of a path: straight from side to side, round through the square between ports of one side. */
export function lineOf(from: Place, to: Place): { d: string; before: Place; middle: Place } {
  if (from.y !== to.y)
    return { d: `M${from.x} ${from.y}L${to.x} ${to.y}`, before: from, middle: { x: (from.x + to.x) / 2, y: (from.y + to.y) / 2 } };
  const y = from.y === TOP ? TOP + 0.45 * SQUARE : TOP + 0.55 * SQUARE;
  return {
    d: `M${from.x} ${from.y}V${y}H${to.x}V${to.y}`,
    before: { x: to.x, y },
    middle: { x: (from.x + to.x) / 2, y },
  };
}

/** The head of an arrow that comes from one place to another. */
export function headOf(from: Place, to: Place, size = 12): string {
  const length = Math.hypot(to.x - from.x, to.y - from.y) || 1;
  const [dx, dy] = [(to.x - from.x) / length, (to.y - from.y) / length];
  const [bx, by, w] = [to.x - size * dx, to.y - size * dy, 0.4 * size];
  return `M${to.x} ${to.y}L${bx - w * dy} ${by + w * dx}L${bx + w * dy} ${by - w * dx}z`;
}

/** What stands in the middle of a path. */
export function markOf(kind: ValvePath["kind"], { x, y }: Place): string {
  if (kind === "check") return `M${x - 8} ${y}a8 8 0 1 0 16 0a8 8 0 1 0 -16 0M${x - 11} ${y - 3}L${x} ${y + 11}L${x + 11} ${y - 3}`;
  if (kind === "orifice") return `M${x - 14} ${y - 11}q9 11 0 22M${x + 14} ${y - 11}q-9 11 0 22`;
  return "";
}

/** A spring from an end outwards. */
export const springOf = (x: number, way: number, y: number) =>
  `M${x} ${y}` + Array.from({ length: 7 }, (_, k) => `L${x + way * (k + 1) * 7} ${y + (k % 2 === 0 ? 12 : -12)}`).join("");

/** The actuator of an end, and what of it is filled. */
export function actuatorOf(valve: Valve, x: number, way: number): { lines: string; fill: string } {
  const y = TOP + 14;
  const box = (w: number, h: number) => `M${x} ${y}h${way * w}v${h}h${-way * w}z`;
  switch (valve.actuation) {
    case "solenoid":
      return { lines: `${box(48, 34)}M${x + way * 16} ${y + 28}l${way * 16} -22`, fill: "" };
    case "lever":
      return way < 0 ? { lines: `${box(44, 26)}M${x - 44} ${y + 13}l-20 -34`, fill: "" } : { lines: "", fill: "" };
    default: {
      if (valve.actuation === "pilotOneSide" && way > 0) return { lines: "", fill: "" };
      const tip = `M${x + way * 8} ${y + 17}l${way * 18} -10v20z`;
      return valve.medium === "hydraulic" ? { lines: box(44, 34), fill: tip } : { lines: box(44, 34) + tip, fill: "" };
    }
  }
}
