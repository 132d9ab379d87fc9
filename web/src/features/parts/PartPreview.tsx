import type { CatalogPart, Schemas } from "../../api/client";
import { defaultView, portOffset } from "../../canvas/geometry";
import { MathText } from "../../ui/Math";
import { PortGlyph } from "../build/PortGlyph";
import { Symbol } from "../../ui/Symbol";

/** How the part will look, and its equations typeset. */
export function PartPreview({ review }: { review: Schemas["PartReviewView"] }) {
  const part = review.description;
  if (!part) return <p className="quiet">The text defines no part yet.</p>;
  return (
    <>
      <h3>On the diagram</h3>
      <Plate part={part} />
      <h3>Equations</h3>
      {part.equations.length === 0 && <p className="quiet">None of its own.</p>}
      {part.equations.map((e, i) => (
        <div className="equation" key={i}>
          <MathText tex={e} />
        </div>
      ))}
      {part.parameters.length > 0 && <h3>Parameters</h3>}
      <ul className="plain">
        {part.parameters.map((p) => (
          <li key={p.name}>
            <code>{p.name}</code> = {p.default} {p.unit} <span className="quiet">{p.description}</span>
          </li>
        ))}
      </ul>
    </>
  );
}

function Plate({ part }: { part: CatalogPart }) {
  const view = defaultView(part);
  const [width, height] = [Number(view.width), Number(view.height)];
  return (
    <div className="part-preview" aria-label={`${view.ports.length} ports`}>
      <div className="part plate" style={{ position: "relative", width, height }}>
        <span className="face">
          {part.symbol ? (
            <Symbol name={part.symbol} />
          ) : (
            <span className="face-math">
              <MathText tex={part.face.replaceAll(/<<(.+?)>>/g, "$1")} />
            </span>
          )}
        </span>
        {view.ports.map((port) => {
          const o = portOffset(view, port.name, false);
          return (
            <span
              key={port.name}
              className={`port ${port.domain ? "physical" : port.kind}`}
              title={`${port.name} ${port.description ?? ""}`}
              style={{ left: o.x, top: o.y }}
            >
              {port.domain && <PortGlyph domain={port.domain} />}
            </span>
          );
        })}
      </div>
      <ul className="plain">
        {part.ports.map((p) => (
          <li key={p.name}>
            <code>{p.name}</code>{" "}
            <span className="quiet">
              {p.domain ?? (p.causality === "input" ? "in" : "out")}
              {p.description ? `, ${p.description}` : ""}
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}
