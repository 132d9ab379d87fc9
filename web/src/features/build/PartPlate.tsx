import { memo } from "react";
import type { PartView } from "../../api/client";
import type { PartNode } from "../../state/document";
import { FittedFace } from "../../ui/FittedFace";
import { portOffset } from "../../canvas/geometry";
import { MathText } from "../../ui/Math";
import { PortGlyph } from "./PortGlyph";
import { Symbol } from "../../ui/Symbol";

interface Props {
  id: string;
  node: PartNode;
  view: PartView;
  dx: number;
  dy: number;
  selected: boolean;
  flag: "error" | "warning" | null;
  wiredPorts: string;
}

/** A part on the diagram. Pointer events are handled by the diagram, which reads the data attributes. */
export const PartPlate = memo(function PartPlate({ id, node, view, dx, dy, selected, flag, wiredPorts }: Props) {
  const wired = new Set(wiredPorts.split("|"));
  const circle = view.shape === "circle";
  const bar = view.shape === "bar";
  const classes = ["part", circle ? "circle" : bar ? "bar" : "plate", selected ? "selected" : ""].join(" ");
  const width = Number(view.width);
  const height = Number(view.height);
  return (
    <div
      className={classes}
      data-part={id}
      role="group"
      aria-roledescription="part"
      aria-label={`${node.name}, ${node.type}`}
      aria-current={selected || undefined}
      style={{ left: node.x + dx, top: node.y + dy, width, height }}
    >
      <span className={`part-name ${namePlace(view)}`}>{node.name}</span>
      {bar && (
        <>
          <span className={`spine ${view.ports.some((p) => p.isInput && p.kind === "any") !== (node.flip ?? false) ? "right" : "left"}`} />
          {view.ports
            .filter((p) => p.name !== "bundle")
            .map((p) => {
              const o = portOffset(view, p.name, node.flip ?? false);
              return (
                <span key={p.name} className={`member ${o.side}`} style={{ top: o.y }}>
                  {p.name}
                </span>
              );
            })}
        </>
      )}
      {!bar && (
        <FittedFace className="face" least={0.55} of={`${view.face}|${view.symbol}|${width}|${height}`}>
          {view.symbol ? (
            <Symbol name={view.symbol} />
          ) : (
            <span className="face-math">
              <MathText tex={view.face || `\\text{${node.type}}`} />
            </span>
          )}
        </FittedFace>
      )}
      {view.ports.map((port) => {
        const o = portOffset(view, port.name, node.flip ?? false);
        return (
          <span key={port.name}>
            <span
              className={`port ${port.domain ? "physical" : `${port.isInput ? "in" : "out"} ${port.kind}`} ${wired.has(port.name) ? "wired" : ""}`}
              data-port={port.name}
              data-input={port.isInput}
              title={`${port.name}${port.description ? `: ${port.description}` : ""}`}
              style={{ left: o.x, top: o.y }}
            >
              {port.domain && <PortGlyph domain={port.domain} />}
            </span>
            {port.sign && (
              <button
                className={`sign ${o.side}`}
                data-sign={port.name}
                tabIndex={-1}
                aria-label={`Sign of ${port.name}: ${port.sign}`}
                style={{ left: o.x, top: o.y }}
              >
                {port.sign}
              </button>
            )}
          </span>
        );
      })}
      {flag && (
        <span className={`flag ${flag}`} title={flag === "error" ? "Has an error" : "Has a warning"}>
          ⚑
        </span>
      )}
    </div>
  );
});

/** Where the name stands: on the top edge, or where no port is in its way. */
function namePlace(view: PartView): string {
  const taken = (side: string) => view.ports.some((p) => p.side === side);
  if (view.shape === "bar") return "above";
  if (view.shape === "circle" || !taken("top")) return "";
  return taken("bottom") ? "beside" : "below";
}
