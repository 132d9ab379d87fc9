import classNames from "classnames/bind";
import type { CatalogPart, Schemas } from "../../api/client";
import { PartSketch } from "../../canvas/PartPlate";
import { Equations } from "../../ui/Equations";
import styles from "./parts.module.css";

const cx = classNames.bind(styles);

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
        <Equations key={i} lines={[e]} />
      ))}
      {part.parameters.length > 0 && <h3>Parameters</h3>}
      <ul className={cx("list")}>
        {part.parameters.map((p) => (
          <li key={p.name}>
            <code>{p.name}</code> = {p.default} {p.unitText} <span className="quiet">{p.description}</span>
          </li>
        ))}
      </ul>
    </>
  );
}

function Plate({ part }: { part: CatalogPart }) {
  return (
    <div className={cx("preview")} role="group" aria-label={`${part.fresh.ports.length} ports`}>
      <PartSketch view={part.fresh} />
      <ul className={cx("list")}>
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
