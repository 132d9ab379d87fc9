import classNames from "classnames/bind";
import { useEffect, useState, type RefObject } from "react";
import { useShallow } from "zustand/react/shallow";
import { SmallCurve } from "../../plots/SmallCurve";
import { useBench } from "../../state/bench";
import { referenceOf, type WireNode } from "../../state/document";
import { useSmallCurves } from "../../state/useSmallCurves";
import { told } from "../../ui/format";
import styles from "./build.module.css";

const cx = classNames.bind(styles);

/** How long the pointer rests on a wire before it is told of, in ms. */
const REST = 350;

/** Room between the pointer and what is told, in px. */
const GAP = 14;

/** Signals of a bundle that are listed; the inspector has all. */
const MOST = 14;

/** What a wire under the pointer carries: its signals with their values at the time bar. */
export function WireCard({ host }: { host: RefObject<HTMLDivElement | null> }) {
  const [at, setAt] = useState<{ wire: string; style: React.CSSProperties } | null>(null);
  useEffect(() => {
    const element = host.current;
    if (!element) return;
    let waiting: ReturnType<typeof setTimeout> | undefined;
    const over = (e: PointerEvent) => {
      clearTimeout(waiting);
      const wire = (e.target as HTMLElement).dataset.wire;
      if (!wire || e.buttons !== 0) return setAt(null);
      const box = element.getBoundingClientRect();
      const [x, y] = [e.clientX - box.left, e.clientY - box.top];
      // Towards the middle, so that nothing of it lies outside.
      const style = {
        ...(x > box.width / 2 ? { right: box.width - x + GAP } : { left: x + GAP }),
        ...(y > box.height / 2 ? { bottom: box.height - y + GAP } : { top: y + GAP }),
      };
      const place = { wire, style };
      waiting = setTimeout(() => setAt(place), REST);
    };
    const leave = () => {
      clearTimeout(waiting);
      setAt(null);
    };
    element.addEventListener("pointerover", over);
    element.addEventListener("pointerdown", leave);
    element.addEventListener("pointerleave", leave);
    return () => {
      leave();
      element.removeEventListener("pointerover", over);
      element.removeEventListener("pointerdown", leave);
      element.removeEventListener("pointerleave", leave);
    };
  }, [host]);
  const diagram = useBench((s) => s.diagram);
  const wire = at && diagram.wires[at.wire];
  if (!at || !wire) return null;
  return <Told wire={wire} style={at.style} />;
}

function Told({ wire, style }: { wire: WireNode; style: React.CSSProperties }) {
  const { view, values, time, level } = useBench(useShallow((s) => ({ view: s.view, values: s.values, time: s.time, level: s.level })));
  const port = view.parts[wire.from.part]?.ports.find((p) => p.name === wire.from.port);
  const keys = port?.elements ?? (port?.potential && port.flow ? [port.potential, port.flow] : [`${wire.from.part}.${wire.from.port}`]);
  const rows = keys.flatMap((key) => {
    const info = view.signals[key];
    return info ? [{ key, label: info.label, unit: info.unit, value: time === null ? "" : told(values.get(key), info) }] : [];
  });
  const curves = useSmallCurves(rows.slice(0, MOST).map((r) => referenceOf(level, r.key)));
  if (rows.length === 0) return null;
  return (
    <div className={cx("wire-card")} style={style} role="tooltip">
      {rows.slice(0, MOST).map((r) => (
        <div key={r.key}>
          <span>{r.label}</span>
          <SmallCurve curve={curves.get(referenceOf(level, r.key))} className={cx("small-curve")} />
          <span className="mono">
            {r.value} {r.unit}
          </span>
        </div>
      ))}
      {rows.length > MOST && <div className="quiet">and {rows.length - MOST} more</div>}
      {time === null && <div className="quiet">Set the time bar to see values.</div>}
    </div>
  );
}
