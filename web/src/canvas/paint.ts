import type { PartView } from "../api/client";
import type { Diagram, Point } from "../state/document";
import { domainColor, tokens } from "../ui/tokens";
import type { Visible } from "./hitIndex";
import type { Routes, Shift } from "./routes";
import type { Viewport } from "./viewport";

/** What is painted of a diagram from far away: its structure, with detail falling away as it becomes too small to read. */
export interface FarScene {
  diagram: Pick<Diagram, "parts" | "wires" | "areas">;
  views: Record<string, PartView>;
  routes: Routes;
  visible: Visible;
  selection: ReadonlySet<string>;
  flags: Record<string, "error" | "warning">;
  shift: Shift | null;
}

/** Names are painted where a letter is at least this high, in pixels. */
const READABLE = 6;

const NAME_SIZE = 11;

/** Paints the parts and wires in view. The context is in device pixels of the given density. */
export function paintFar(context: CanvasRenderingContext2D, scene: FarScene, viewport: Viewport, density: number): void {
  const { x, y, zoom } = viewport;
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.clearRect(0, 0, context.canvas.width, context.canvas.height);
  context.setTransform(zoom * density, 0, 0, zoom * density, x * density, y * density);
  // Lines keep the width they have on screen.
  const hair = 1 / zoom;
  context.lineWidth = hair;
  context.strokeStyle = tokens.line;
  for (const a of Object.values(scene.diagram.areas)) context.strokeRect(a.x, a.y, a.width, a.height);
  paintWires(context, scene, hair);
  paintParts(context, scene, hair, zoom);
}

function paintWires(context: CanvasRenderingContext2D, { diagram, views, routes, visible, selection }: FarScene, hair: number): void {
  const byColor = new Map<string, Point[][]>();
  for (const id of visible.wires) {
    const points = routes.get(id);
    const wire = diagram.wires[id];
    if (!points || !wire) continue;
    const port = views[wire.from.part]?.ports.find((p) => p.name === wire.from.port);
    const color = selection.has(id) ? tokens.buoy : domainColor(port?.domain);
    const same = byColor.get(color);
    if (same) same.push(points);
    else byColor.set(color, [points]);
  }
  for (const [color, lines] of byColor) {
    context.beginPath();
    for (const points of lines) points.forEach((p, i) => (i === 0 ? context.moveTo(p.x, p.y) : context.lineTo(p.x, p.y)));
    context.strokeStyle = color;
    context.lineWidth = color === tokens.buoy ? 2 * hair : hair;
    context.stroke();
  }
}

function paintParts(
  context: CanvasRenderingContext2D,
  { diagram, views, visible, selection, flags, shift }: FarScene,
  hair: number,
  zoom: number,
): void {
  const named = NAME_SIZE * zoom >= READABLE;
  context.font = `${NAME_SIZE}px "IBM Plex Sans", sans-serif`;
  context.textBaseline = "alphabetic";
  for (const id of visible.parts) {
    const node = diagram.parts[id];
    const view = views[id];
    if (!node || !view) continue;
    const moved = shift?.ids.has(id) ? shift : null;
    const [left, top] = [node.x + (moved?.dx ?? 0), node.y + (moved?.dy ?? 0)];
    context.beginPath();
    if (view.shape === "circle") context.arc(left + view.width / 2, top + view.height / 2, view.width / 2, 0, 2 * Math.PI);
    else context.rect(left, top, view.width, view.height);
    context.fillStyle = tokens.surface;
    context.fill();
    const flag = flags[id];
    const chosen = selection.has(id);
    context.strokeStyle = chosen ? tokens.buoy : flag === "error" ? tokens.missed : flag ? tokens.caution : tokens.edge;
    context.lineWidth = (chosen || flag ? 2 : 1) * hair;
    context.stroke();
    if (!named) continue;
    context.fillStyle = tokens.ink;
    context.fillText(node.name, left + 4, top - 3, Math.max(view.width, 60));
  }
}
