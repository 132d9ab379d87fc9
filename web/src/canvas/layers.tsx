import classNames from "classnames/bind";
import type { PartView } from "../api/client";
import { branchPoints, pathData } from "./geometry";
import type { Visible } from "./hitIndex";
import type { Shift } from "./routes";
import { draggedCorners, type Tool } from "./tools";
import type { Diagram, Point, WireNode } from "../state/document";
import { Prose } from "../ui/Prose";
import { portOf, type Scene } from "./scene";
import { PartPlate } from "./PartPlate";
import { FarEnds } from "./FarEnds";
import { Markers, Wire } from "./Wires";
import styles from "./canvas.module.css";

const cx = classNames.bind(styles);

interface CaptionsProps {
  diagram: Diagram;
  shift: Shift | null;
  selection: ReadonlySet<string>;
}

/** Captioned areas around parts. Only the caption takes the pointer, so that parts within are reached. */
export const Areas = ({ diagram, shift, selection, tool }: CaptionsProps & { tool: Tool }) => (
  <>
    {Object.entries(diagram.areas).map(([id, a]) => (
      <div
        key={id}
        className={cx("area", a.tone ?? "plain", { selected: selection.has(id) })}
        style={{ ...placed(a, id, shift), ...sizeOf(tool.kind === "size" && tool.id === id ? tool : a) }}
      >
        <span className={cx("caption")} data-caption={id}>
          {a.text || "Area"}
        </span>
        <span className={cx("corner")} data-corner={id} title="Drag to size the area" />
      </div>
    ))}
  </>
);

/** Notes, with mathematics between dollar signs. */
export const Notes = ({ diagram, shift, selection }: CaptionsProps) => (
  <>
    {Object.entries(diagram.notes).map(([id, n]) => (
      <p key={id} className={cx("note", { selected: selection.has(id) })} style={placed(n, id, shift)} data-caption={id}>
        <Prose text={n.text ?? ""} />
      </p>
    ))}
  </>
);

const sizeOf = ({ width, height }: { width: number; height: number }) => ({ width, height });

const placed = ({ x, y }: { x?: number; y?: number }, id: string, shift: Shift | null) => {
  const moved = shift?.ids.has(id) ? shift : null;
  return { left: (x ?? 0) + (moved?.dx ?? 0), top: (y ?? 0) + (moved?.dy ?? 0) };
};

interface WireLayerProps {
  scene: Scene;
  tool: Tool;
  selection: ReadonlySet<string>;
  /** Wires by the port they come from. */
  sources: ReadonlyMap<string, string[]>;
  /** Faults of signals by the port they come from: whether one is active. */
  faults: ReadonlyMap<string, boolean>;
  /** What is mounted; null for all. */
  within: Visible | null;
  draft: Point[] | null;
}

/** What the first wire of a signal shows of its faults. */
const faultOf = (faults: ReadonlyMap<string, boolean>, sources: ReadonlyMap<string, string[]>, source: string, wire: string) => {
  const active = faults.get(source);
  return active === undefined || sources.get(source)?.[0] !== wire ? null : active ? "active" : "given";
};

/** Wires with their branches, and the one that is being drawn. */
export function WireLayer({ scene, tool, selection, sources, faults, within, draft }: WireLayerProps) {
  const { diagram, views, routes } = scene;
  const isMounted = (id: string) => within === null || within.wires.has(id);
  return (
    <svg className={cx("wires")} width="1" height="1">
      <Markers />
      {[...(within?.wires ?? routes.keys())].map((id) => {
        const w = diagram.wires[id];
        const points = routes.get(id);
        if (!w || !points || (tool.kind === "wire" && tool.replacing === id)) return null;
        const bending = tool.kind === "segment" && tool.wire === id && tool.now !== tool.start;
        const port = portOf({ views }, w.from);
        return (
          <Wire
            key={id}
            id={id}
            points={bending ? bent(points, tool) : points}
            selected={selection.has(id)}
            leftOut={!!views[w.from.part]?.leftOut || !!views[w.to.part]?.leftOut}
            kind={port?.domain ?? port?.kind ?? "real"}
            count={sources.get(`${w.from.part}.${w.from.port}`)?.[0] === id ? (port?.elements?.length ?? 0) : 0}
            fault={faultOf(faults, sources, `${w.from.part}.${w.from.port}`, id)}
            label={`${port?.domain ? "Connection between" : "Wire from"} ${diagram.parts[w.from.part]?.name} ${port?.domain ? "and" : "to"} ${diagram.parts[w.to.part]?.name}`}
          />
        );
      })}
      {Object.entries(diagram.wires).map(([id, w]) =>
        w.byName && (within === null || within.parts.has(w.from.part) || within.parts.has(w.to.part)) ? (
          <FarEnds
            key={id}
            id={id}
            scene={scene}
            name={nameOf(scene, w.from)}
            selected={selection.has(id)}
            isFirst={sources.get(`${w.from.part}.${w.from.port}`)?.find((s) => diagram.wires[s]?.byName) === id}
          />
        ) : null,
      )}
      {[...sources].map(([key, ids]) =>
        ids.length < 2 || !ids.some(isMounted)
          ? null
          : branchPoints(ids.map((i) => routes.get(i) ?? []).filter((r) => r.length > 1)).map((d) => (
              <circle
                key={`${key}${d.x},${d.y}`}
                className={cx("junction", portOf({ views }, (diagram.wires[ids[0] as string] as WireNode).from)?.domain)}
                cx={d.x}
                cy={d.y}
                r="2.6"
              />
            )),
      )}
      {draft && <path className={cx("draft")} d={pathData(draft)} markerEnd="url(#arrow-selected)" />}
    </svg>
  );
}

/** What a signal is called where its wire is not drawn. */
const nameOf = ({ diagram }: Scene, from: { part: string; port: string }) =>
  diagram.signals[`${from.part}.${from.port}`]?.name ?? `${diagram.parts[from.part]?.name ?? "?"}.${from.port}`;

const bent = (points: Point[], tool: Extract<Tool, { kind: "segment" }>) => [
  points[0] as Point,
  ...draggedCorners(tool.points, tool.index, tool.vertical, tool.now),
  points[points.length - 1] as Point,
];

interface PartsProps {
  scene: Scene;
  shift: (Shift & { copy: boolean }) | null;
  selection: ReadonlySet<string>;
  flags: Record<string, "error" | "warning">;
  /** Ports of each part that wires end at, joined by bars. */
  wired: Record<string, string>;
  within: Visible | null;
}

/** Parts in view, and those that are dragged wherever they are. */
export function Parts({ scene, shift, selection, flags, wired, within }: PartsProps) {
  const { diagram, views } = scene;
  const ids =
    within === null ? Object.keys(diagram.parts) : [...new Set([...within.parts, ...(within.parts.size > 0 ? (shift?.ids ?? []) : [])])];
  return (
    <>
      {ids.map((id) => {
        const node = diagram.parts[id];
        const v: PartView | undefined = views[id];
        const moved = shift?.ids.has(id) && !shift.copy ? shift : null;
        return node && v ? (
          <PartPlate
            key={id}
            id={id}
            node={node}
            view={v}
            dx={moved?.dx ?? 0}
            dy={moved?.dy ?? 0}
            selected={selection.has(id)}
            flag={flags[id] ?? null}
            wiredPorts={wired[id] ?? ""}
          />
        ) : null;
      })}
    </>
  );
}

/** What gestures show while they go on: copies to be, the box of a selection, the port a wire would end at. */
export function Overlay({ scene, tool, target }: { scene: Scene; tool: Tool; target: Point | null }) {
  const { diagram, views } = scene;
  const copies = tool.kind === "move" && tool.moved && tool.copy ? tool : null;
  return (
    <>
      {copies &&
        [...copies.ids].map((id) => {
          const n = diagram.parts[id];
          const v = views[id];
          return n && v ? (
            <div
              key={id}
              className={cx("part", "plate", "phantom")}
              style={{ left: n.x + copies.dx, top: n.y + copies.dy, width: v.width, height: v.height }}
            />
          ) : null;
        })}
      {tool.kind === "box" && (
        <div
          className={cx("box-select")}
          style={{
            left: Math.min(tool.start.x, tool.now.x),
            top: Math.min(tool.start.y, tool.now.y),
            width: Math.abs(tool.now.x - tool.start.x),
            height: Math.abs(tool.now.y - tool.start.y),
          }}
        />
      )}
      {tool.kind === "port" && <div className={cx("target")} style={{ left: tool.now.x, top: tool.now.y }} />}
      {target && <div className={cx("target")} style={{ left: target.x, top: target.y }} />}
    </>
  );
}
