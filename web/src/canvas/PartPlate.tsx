import classNames from "classnames/bind";
import { memo } from "react";
import type { PartView } from "../api/client";
import type { PartNode } from "../state/document";
import { portOffset, type Pose } from "./geometry";
import { PartFace } from "./PartFace";
import { PortGlyph } from "./PortGlyph";
import { strandsOf, type Strand } from "./strands";
import styles from "./canvas.module.css";

const cx = classNames.bind(styles);

interface Props {
  id: string;
  node: PartNode;
  view: PartView;
  dx: number;
  dy: number;
  selected: boolean;
  flag: "error" | "warning" | null;
  /** Names of the ports that wires end at, joined by bars. */
  wiredPorts: string;
}

/** A part on the diagram. Pointer events are handled by the diagram, which reads the data attributes. */
export const PartPlate = memo(function PartPlate({ id, node, view, dx, dy, selected, flag, wiredPorts }: Props) {
  return (
    <div
      className={cx("part", shapeOf(view), { selected, slot: view.slot, "left-out": view.leftOut })}
      data-part={id}
      role="group"
      aria-roledescription="part"
      aria-label={`${node.name}, ${node.type}${view.leftOut ? ", left out" : ""}${view.slot ? `, ${view.slot.present ?? "?"} is in` : ""}`}
      aria-current={selected || undefined}
      style={{ left: node.x + dx, top: node.y + dy, width: view.width, height: view.height }}
    >
      <span className={cx("part-name", namePlace(view, node, node.name))} data-name>
        {node.name}
      </span>
      <PartBody view={view} pose={node} wired={new Set(wiredPorts.split("|"))} />
      {flag && (
        <span className={cx("flag", flag)} title={flag === "error" ? "Has an error" : "Has a warning"}>
          ⚑
        </span>
      )}
    </div>
  );
});

/** A part as it will look, outside a diagram. */
export const PartSketch = ({ view }: { view: PartView }) => (
  <div className={cx("part", "sketch", shapeOf(view))} style={{ width: view.width, height: view.height }}>
    <PartBody view={view} pose={upright} wired={nothing} />
  </div>
);

/** Whether ports are named on the plate: those of levels and of parts that were made of one. */
const namesPorts = (view: PartView) => !!view.opens || !!view.drawing || view.symbol === "subsystem";

const upright: Pose = {};

const nothing: ReadonlySet<string> = new Set();

const shapeOf = (view: PartView) =>
  view.shape === "circle" ? ["circle"] : view.shape === "bar" || view.shape === "stack" ? ["plate", "bar"] : ["plate"];

interface BodyProps {
  view: PartView;
  pose: Pose;
  wired: ReadonlySet<string>;
}

/** Face and ports. */
const PartBody = ({ view, pose, wired }: BodyProps) => (
  <>
    <PlateFace view={view} pose={pose} />
    {view.slot && <Realisation slot={view.slot} isFace={view.symbol === "subsystem"} />}
    {view.ports.map((port) => {
      const { x, y, side } = portOffset(view, port.name, pose);
      return (
        <span key={port.name}>
          <span
            className={cx("port", port.domain ? "physical" : port.kind, { wired: wired.has(port.name) })}
            data-port={port.name}
            data-input={port.isInput}
            title={`${port.name}${port.description ? `: ${port.description}` : ""}`}
            style={{ left: x, top: y }}
          >
            {port.domain && <PortGlyph domain={port.domain} />}
          </span>
          {namesPorts(view) && (
            <span className={cx("port-name", side)} style={side === "left" || side === "right" ? { top: y } : { left: x }}>
              {port.name}
            </span>
          )}
          {port.sign && (
            <button
              className={cx("sign", side)}
              data-sign={port.name}
              tabIndex={-1}
              aria-label={`Sign of ${port.name}: ${port.sign}`}
              style={{ left: x, top: y }}
            >
              {port.sign}
            </button>
          )}
        </span>
      );
    })}
  </>
);

/** What stands on the plate; that of a slot alone says which realisation is in. */
function PlateFace({ view, pose }: Omit<BodyProps, "wired">) {
  const strands = strandsOf(view, pose);
  if (strands) return <StrandFace view={view} strands={strands} />;
  return view.slot && view.symbol === "subsystem" ? null : <PartFace view={view} pose={pose} className={cx("face")} least={0.55} />;
}

/** Which realisation of a slot is in, and that there are others: a mark for each. */
const Realisation = ({ slot, isFace }: { slot: NonNullable<PartView["slot"]>; isFace: boolean }) => (
  <span className={cx("realisation", { beside: !isFace })} title={`${slot.names.join(", ")}: the key , puts the next one in`}>
    <span>{slot.present ?? "?"}</span>
    <i aria-hidden>
      {slot.names.map((name) => (
        <u key={name} className={cx({ in: name === slot.present })} />
      ))}
    </i>
  </span>
);

/** The plate of what joins or splits: the names of its members, whose strands run together into the one wire. */
const StrandFace = ({ view, strands }: { view: PartView; strands: Strand[] }) => (
  <>
    <svg className={cx("strands")} width={view.width} height={view.height} aria-hidden>
      {strands.map((s) => (
        <path key={s.name} d={s.path} />
      ))}
    </svg>
    {strands.map((s) => (
      <span key={s.name} className={cx("member", s.side)} style={s.side === "left" || s.side === "right" ? { top: s.y } : { left: s.x }}>
        {s.label}
      </span>
    ))}
  </>
);

/** Where a name on the top edge begins, and how wide its letters are about. */
const NAME_LEFT = 14,
  NAME_LETTER = 5.6;

/** Where the name stands: on the top edge, or where no port is in its way. */
function namePlace(view: PartView, pose: Pose, name: string): string {
  const taken = (side: string) => view.ports.some((p) => portOffset(view, p.name, pose).side === side);
  // On the wide plate of a subsystem the name stands beside a port in the middle, where it is short enough.
  if (namesPorts(view)) {
    const first = Math.min(...view.ports.map((p) => portOffset(view, p.name, pose)).flatMap((o) => (o.side === "top" ? [o.x] : [])));
    return NAME_LEFT + name.length * NAME_LETTER > first - 6 ? (taken("bottom") ? "beside" : "below") : "";
  }
  if (view.shape === "circle" || !taken("top")) return "";
  return taken("bottom") ? "beside" : "below";
}
