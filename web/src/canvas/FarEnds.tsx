import classNames from "classnames/bind";
import { memo } from "react";
import { isVertical, toward } from "./geometry";
import { placeOf, type Scene } from "./scene";
import styles from "./canvas.module.css";

const cx = classNames.bind(styles);

interface Props {
  id: string;
  scene: Scene;
  name: string;
  selected: boolean;
  /** Whether this wire says the name at the source, for all that leave there by name. */
  isFirst: boolean;
}

const STUB = 12;

/** A wire that is drawn as its name at both ends; a click on one leads to the other. */
export const FarEnds = memo(function FarEnds({ id, scene, name, selected, isFirst }: Props) {
  const wire = scene.diagram.wires[id];
  if (!wire) return null;
  const ends = [
    { end: wire.from, other: wire.to, isSource: true },
    { end: wire.to, other: wire.from, isSource: false },
  ];
  return (
    <g
      className={cx("far-ends", { selected })}
      role="img"
      aria-label={`${name}, from ${scene.diagram.parts[wire.from.part]?.name} to ${scene.diagram.parts[wire.to.part]?.name} by name`}
    >
      {ends.map(({ end, other, isSource }) => {
        if (isSource && !isFirst) return null;
        const at = placeOf(scene, end);
        const down = isVertical(at.side) ? (at.side === "top" ? -1 : 1) : 0;
        const to = { x: at.x + STUB * toward(at.side), y: at.y + STUB * down };
        const width = 12 + 5.8 * name.length;
        const left = at.side === "left" ? to.x - width : at.side === "right" ? to.x : to.x - width / 2;
        const top = at.side === "top" ? to.y - 16 : at.side === "bottom" ? to.y : to.y - 8;
        return (
          <g key={isSource ? "from" : "to"} data-leads={other.part}>
            <path data-wire={id} className={cx("line")} d={`M${at.x} ${at.y}L${to.x} ${to.y}`} />
            <rect data-wire={id} x={left} y={top} width={width} height="16" rx="8" />
            <text data-wire={id} x={left + width / 2} y={top + 11.5} textAnchor="middle">
              {name}
            </text>
            <title>{`${name}: ${isSource ? `goes on at ${scene.diagram.parts[other.part]?.name}` : `comes from ${scene.diagram.parts[other.part]?.name}`}`}</title>
          </g>
        );
      })}
    </g>
  );
});
