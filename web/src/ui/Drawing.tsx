import type { Schemas } from "../api/client";
import { arcPath } from "./arc";

export type Stroke = Schemas["StrokeNode"];

/** The frame that symbols are drawn in. */
export const FRAME = { width: 96, height: 64 };

const data = (points: Stroke["points"], closed = false) =>
  points.map((p, i) => `${i ? "L" : "M"}${p.x} ${p.y}`).join("") + (closed ? "Z" : "");

/** One stroke of a drawn symbol. */
export function StrokeShape({ stroke }: { stroke: Stroke }) {
  const { kind, points, text, isFilled } = stroke;
  const [a, b, c] = points;
  if (!a) return null;
  const paint = { stroke: "var(--ink)", strokeWidth: 1.4, fill: isFilled ? "var(--ink)" : "none", strokeLinejoin: "round" as const };
  if (kind === "text")
    return (
      <text x={a.x} y={a.y} fontSize="10" fill="var(--ink)" fontFamily="IBM Plex Sans">
        {text}
      </text>
    );
  if (!b) return null;
  const box = { x: Math.min(a.x, b.x), y: Math.min(a.y, b.y), width: Math.abs(a.x - b.x), height: Math.abs(a.y - b.y) };
  switch (kind) {
    case "rectangle":
      return <rect {...box} {...paint} />;
    case "ellipse":
      return <ellipse cx={box.x + box.width / 2} cy={box.y + box.height / 2} rx={box.width / 2} ry={box.height / 2} {...paint} />;
    case "arc":
      return c ? <path d={arcPath(a, b, c)} {...paint} fill="none" /> : null;
    case "line":
      return <path d={data(points, isFilled)} {...paint} />;
  }
}

/** A face that somebody drew, or a picture. */
export const Drawing = ({ drawing, room = FRAME }: { drawing: Schemas["DrawingView"]; room?: { width: number; height: number } }) =>
  drawing.sketch ? (
    <svg viewBox={`0 0 ${FRAME.width} ${FRAME.height}`} {...FRAME} fill="none" aria-hidden>
      {drawing.sketch.map((s, i) => (
        <StrokeShape key={i} stroke={s} />
      ))}
    </svg>
  ) : (
    <img src={drawing.picture ?? ""} alt="" style={{ maxWidth: room.width, maxHeight: room.height, display: "block" }} draggable={false} />
  );
