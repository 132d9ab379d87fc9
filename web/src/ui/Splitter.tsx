import classNames from "classnames/bind";
import { useState } from "react";
import styles from "./ui.module.css";

const cx = classNames.bind(styles);

/** The sizes of panes in pixels, each with its limits; the style sheets know them as custom properties of these names. */
const panes = {
  "pane-left": { label: "Width of the left pane", usual: 236, least: 160, most: 480 },
  "pane-inspector": { label: "Width of the inspector", usual: 304, least: 220, most: 640 },
  "pane-traces": { label: "Height of the traces", usual: 236, least: 90, most: 620 },
} as const;

type Name = keyof typeof panes;

const keyOf = (name: Name) => `anchor-bend ${name}`;

function stored(name: Name): number {
  const { usual, least, most } = panes[name];
  const kept = Number(localStorage.getItem(keyOf(name)));
  return kept >= least && kept <= most ? kept : usual;
}

function put(name: Name, size: number): void {
  document.documentElement.style.setProperty(`--${name}`, `${size}px`);
  localStorage.setItem(keyOf(name), String(size));
}

/** Gives all panes the sizes that they were left with. */
export function restorePanes(): void {
  for (const name of Object.keys(panes) as Name[]) put(name, stored(name));
}

/** How far an arrow key moves an edge. */
const STEP = 16;

interface Props {
  pane: Name;
  /** The edge of the pane that is moved. */
  edge: "left" | "right" | "top";
  className?: string;
}

/** An edge between panes: dragged, or moved by arrow keys; a double click gives back the usual size. */
export function Splitter({ pane, edge, className }: Props) {
  const { label, usual, least, most } = panes[pane];
  const [size, setSize] = useState(() => stored(pane));
  const [from, setFrom] = useState<{ at: number; size: number } | null>(null);
  const isAcross = edge !== "top";
  const set = (wanted: number) => {
    const next = Math.round(Math.min(most, Math.max(least, wanted)));
    setSize(next);
    put(pane, next);
  };
  const grows = edge === "right" ? 1 : -1;
  const along = (e: React.PointerEvent) => (isAcross ? e.clientX : e.clientY);
  return (
    <div
      className={cx("splitter", { across: isAcross }, className)}
      role="separator"
      tabIndex={0}
      aria-label={label}
      aria-orientation={isAcross ? "vertical" : "horizontal"}
      aria-valuemin={least}
      aria-valuemax={most}
      aria-valuenow={size}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        setFrom({ at: along(e), size });
      }}
      onPointerMove={(e) => from && set(from.size + grows * (along(e) - from.at))}
      onPointerUp={() => setFrom(null)}
      onDoubleClick={() => set(usual)}
      onKeyDown={(e) => {
        const [less, more] = isAcross ? ["ArrowLeft", "ArrowRight"] : ["ArrowUp", "ArrowDown"];
        const by = e.key === more ? STEP : e.key === less ? -STEP : 0;
        if (by === 0) return;
        e.preventDefault();
        set(size + grows * by);
      }}
    />
  );
}
