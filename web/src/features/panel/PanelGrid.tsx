import classNames from "classnames/bind";
import { useEffect, useRef, useState } from "react";
import { useBench } from "../../state/bench";
import { COLUMNS, ITEMS, layOut, learnPanel, removeItem, type Panel, type PanelItem } from "../../state/panels";
import { AlertList } from "./AlertList";
import { Control } from "./Controls";
import { FaultList } from "./FaultList";
import { Instrument } from "./Instruments";
import styles from "./panel.module.css";

const cx = classNames.bind(styles);

const ROW = 28;

interface Drag {
  id: string;
  resize: boolean;
  x: number;
  y: number;
  dx: number;
  dy: number;
}

/** The items of a panel on their grid; while it is changed they can be moved and sized. */
export function PanelGrid({ id, panel }: { id: string; panel: Panel }) {
  const editing = useBench((s) => s.panelEdit !== null);
  const chosen = useBench((s) => s.panelEdit?.item ?? null);
  const view = useBench((s) => (s.panelView?.panel === id ? s.panelView.items : null));
  const revision = useBench((s) => s.view.revision);
  const host = useRef<HTMLDivElement>(null);
  const [drag, setDrag] = useState<Drag | null>(null);
  useEffect(() => void learnPanel(), [id, revision]);

  const cell = () => (host.current?.clientWidth ?? 600) / COLUMNS;
  const place = (item: PanelItem, key: string): PanelItem => {
    if (drag?.id !== key) return item;
    const [dx, dy] = [Math.round(drag.dx / cell()), Math.round(drag.dy / ROW)];
    return drag.resize
      ? { ...item, width: Math.max(1, Math.min(COLUMNS - item.x, item.width + dx)), height: Math.max(1, item.height + dy) }
      : { ...item, x: Math.max(0, Math.min(COLUMNS - item.width, item.x + dx)), y: Math.max(0, item.y + dy) };
  };
  const settle = () => {
    const item = drag && panel.items[drag.id];
    if (drag && item) {
      const { x, y, width, height } = place(item, drag.id);
      if (x !== item.x || y !== item.y || width !== item.width || height !== item.height)
        layOut(id, drag.resize ? "Size on the panel" : "Move on the panel", { [drag.id]: { x, y, width, height } });
    }
    setDrag(null);
  };
  const byKey = (e: React.KeyboardEvent, key: string, item: PanelItem) => {
    if (!editing) return;
    if (e.key === "Delete") return removeItem(id, key);
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    if (!step) return;
    e.preventDefault();
    const [dx, dy] = step as [number, number];
    layOut(
      id,
      e.shiftKey ? "Size on the panel" : "Move on the panel",
      e.shiftKey
        ? { [key]: { width: Math.max(1, Math.min(COLUMNS - item.x, item.width + dx)), height: Math.max(1, item.height + dy) } }
        : { [key]: { x: Math.max(0, Math.min(COLUMNS - item.width, item.x + dx)), y: Math.max(0, item.y + dy) } },
    );
  };
  const items = Object.entries(panel.items).sort((a, b) => a[1].y - b[1].y || a[1].x - b[1].x);
  return (
    <div className={cx("grid", { editing })} ref={host} role="group" aria-label={`Panel ${panel.name}`}>
      {items.map(([key, stored]) => {
        const item = place(stored, key);
        const of = view?.[key];
        const label = item.label || of?.label || ITEMS[item.kind].label;
        return (
          <div
            key={key}
            className={cx("item", { chosen: editing && chosen === key, wrong: !!of?.problem })}
            style={
              {
                gridColumn: `${item.x + 1} / span ${item.width}`,
                gridRow: `${item.y + 1} / span ${item.height}`,
                "--rows": item.height,
              } as React.CSSProperties
            }
            tabIndex={editing ? 0 : undefined}
            aria-label={editing ? `${label}, ${ITEMS[item.kind].label}` : undefined}
            title={of?.problem ?? undefined}
            onPointerDown={(e) => {
              if (!editing) return;
              e.preventDefault();
              e.currentTarget.focus();
              e.currentTarget.setPointerCapture(e.pointerId);
              useBench.setState({ panelEdit: { item: key } });
              const resize = (e.target as HTMLElement).dataset.corner !== undefined;
              setDrag({ id: key, resize, x: e.clientX, y: e.clientY, dx: 0, dy: 0 });
            }}
            onPointerMove={(e) => drag && setDrag({ ...drag, dx: e.clientX - drag.x, dy: e.clientY - drag.y })}
            onPointerUp={settle}
            onFocus={() => editing && useBench.setState({ panelEdit: { item: key } })}
            onKeyDown={(e) => byKey(e, key, stored)}
          >
            <div className={cx("inside")} inert={editing}>
              {item.kind === "alerts" ? (
                <AlertList />
              ) : item.kind === "faults" ? (
                <FaultList />
              ) : ITEMS[item.kind].isControl ? (
                <Control item={item} view={of} label={label} />
              ) : (
                <Instrument item={item} view={of} label={label} />
              )}
            </div>
            {editing && <i className={cx("corner")} data-corner />}
          </div>
        );
      })}
      {items.length === 0 && <p className={cx("hint")}>This panel is empty. Add controls and instruments with “Add”.</p>}
    </div>
  );
}
