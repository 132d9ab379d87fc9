import type { PartView } from "../api/client";
import { portOffset, type Pose, type Side } from "./geometry";

/** A member's name on a plate, and the line that leads from it to where all run together. */
export interface Strand {
  name: string;
  label: string;
  x: number;
  y: number;
  side: Side;
  path: string;
}

/** Room beside the names of members, in which their strands run together; less where they are numbers. */
const ROOM = 26,
  SHORT = 18;

/** How far from the edge they have run together. */
const INSET = 5;

/** The strands of a part that joins or splits: members of a bundle by name, elements of a vector by number; null for other parts. */
export function strandsOf(view: PartView, pose: Pose): Strand[] | null {
  if (view.shape !== "bar" && view.shape !== "stack") return null;
  const isWhole = (p: PartView["ports"][number]) => (view.shape === "bar" ? p.name === "bundle" : p.kind === "vector");
  const whole = view.ports.find(isWhole);
  if (!whole) return null;
  const at = portOffset(view, whole.name, pose);
  // A port of the level has all at one side; its strands run together at the level's edge.
  const isOfLevel = view.shape === "bar" && view.ports.every((p) => p.side === whole.side);
  const end = isOfLevel ? { x: at.side === "right" ? 0 : view.width, y: view.height / 2, side: opposite[at.side] } : at;
  const to = inward(end, INSET);
  return view.ports
    .filter((p) => isOfLevel || p !== whole)
    .map((p) => {
      const own = portOffset(view, p.name, pose);
      const across = own.side === "left" || own.side === "right";
      const length = across ? view.width : view.height;
      const from = inward(own, length - (view.shape === "bar" ? ROOM : SHORT));
      const label = p === whole ? "all" : view.shape === "bar" ? p.name : (/\[(.+)\]/.exec(p.name)?.[1] ?? p.name);
      const [mx, my] = [(from.x + to.x) / 2, (from.y + to.y) / 2];
      const path = across
        ? `M${from.x} ${from.y}C${mx} ${from.y} ${mx} ${to.y} ${to.x} ${to.y}`
        : `M${from.x} ${from.y}C${from.x} ${my} ${to.x} ${my} ${to.x} ${to.y}`;
      return { name: p.name, label, x: own.x, y: own.y, side: own.side, path };
    });
}

const opposite = { left: "right", right: "left", top: "bottom", bottom: "top" } as const;

const inward = ({ x, y, side }: { x: number; y: number; side: Side }, by: number) => ({
  x: side === "left" ? x + by : side === "right" ? x - by : x,
  y: side === "top" ? y + by : side === "bottom" ? y - by : y,
});
