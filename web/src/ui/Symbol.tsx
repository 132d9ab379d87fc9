import { drawings } from "./symbols";

/** A drawn face: a curve on faint axes, or a graphical symbol of the trade. */
export function Symbol({ name }: { name: string }) {
  const drawing = drawings[name] ?? { lines: "M4 15H36" };
  return (
    <svg viewBox="0 0 40 30" width="40" height="30" fill="none" aria-hidden>
      {drawing.axes && <path d="M3 15H37M20 3V27" stroke="var(--line)" strokeWidth="1" />}
      <path d={drawing.lines} stroke="var(--ink)" strokeWidth="1.4" strokeLinejoin="round" />
      {drawing.dashed && <path d={drawing.dashed} stroke="var(--ink)" strokeWidth="1.1" strokeDasharray="2 2" />}
      {drawing.fill && <path d={drawing.fill} fill={name === "probe" ? "var(--buoy)" : "var(--ink)"} />}
    </svg>
  );
}
