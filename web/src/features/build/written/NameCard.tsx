import classNames from "classnames/bind";
import { useEffect, useState, type RefObject } from "react";
import type { Piece } from "../../../canvas/chart/labels";
import { useBench } from "../../../state/bench";
import { told } from "../../../ui/format";
import styles from "./chart.module.css";

const cx = classNames.bind(styles);

const KINDS: Record<string, string> = {
  input: "input",
  output: "output",
  local: "local",
  parameter: "parameter",
  event: "event",
  signal: "signal of the chart",
};

/** What a name on the chart means and is now, beside the pointer. */
export function NameCard({ host, kinds }: { host: RefObject<HTMLDivElement | null>; kinds: ReadonlyMap<string, Piece["kind"]> }) {
  const [at, setAt] = useState<{ name: string; x: number; y: number } | null>(null);
  useEffect(() => {
    const element = host.current;
    if (!element) return;
    const move = (e: PointerEvent) => {
      const span = e.target as Element;
      const text = span.tagName === "tspan" && span.childElementCount === 0 ? (span.textContent ?? "").trim() : "";
      const box = element.getBoundingClientRect();
      setAt((before) =>
        kinds.has(text) && KINDS[kinds.get(text) as string]
          ? before?.name === text
            ? before
            : { name: text, x: e.clientX - box.left + 12, y: e.clientY - box.top + 18 }
          : null,
      );
    };
    element.addEventListener("pointermove", move);
    return () => element.removeEventListener("pointermove", move);
  }, [host, kinds]);
  const name = useBench((s) => (at ? Object.values(s.chart?.names ?? {}).find((n) => n.name === at.name) : undefined));
  const info = useBench((s) => (at ? s.view.signals[at.name] : undefined));
  const parameter = useBench((s) => (at ? s.view.parameters[at.name] : undefined));
  const value = useBench((s) => (at && s.time !== null ? s.values.get(at.name) : undefined));
  if (!at || !name) return null;
  const shown = info ? told(value, info) : parameter?.value === null || !parameter ? "–" : String(parameter.value);
  return (
    <div className={cx("card")} style={{ left: at.x, top: at.y }}>
      <b>{name.name}</b>
      <b className="mono">
        {shown} {info?.unit ?? parameter?.unit ?? ""}
      </b>
      <small>{`${KINDS[name.kind]}, ${name.type}`}</small>
      <small>{name.description ?? ""}</small>
    </div>
  );
}
