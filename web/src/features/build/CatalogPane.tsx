import classNames from "classnames/bind";
import { Button, Input } from "antd";
import { useMemo, useRef, useState, type RefObject } from "react";
import { PartFace } from "../../canvas/PartFace";
import { newOwnPart } from "../../state/ownParts";
import { importUnit } from "../../state/units";
import { openPart, showPane, useBench } from "../../state/bench";
import { searchParts } from "../../state/catalogSearch";
import styles from "./build.module.css";

const cx = classNames.bind(styles);

const groupOrder = [
  "Own parts",
  ...["Sources", "Maths", "Dynamics", "Controllers", "Limits and friction", "Tables", "Sampled", "Logic", "Vectors", "Structure", "Ports"],
  ...["Translational", "Rotational", "Mechanisms", "Electrical", "Drives", "Energy stores", "Thermal", "Hydraulic", "Fluid loops"],
];
const order = (group: string) => (groupOrder.includes(group) ? groupOrder.indexOf(group) : groupOrder.length);

/** Places a part where it was let go on the screen. */
export type Drop = (type: string, at: { clientX: number; clientY: number }) => void;

/** The catalog; parts are dragged out of it onto the diagram. */
export function CatalogPane({ drop }: { drop: RefObject<Drop> }) {
  const catalog = useBench((s) => s.catalog);
  const recent = useBench((s) => s.recent);
  const [text, setText] = useState("");
  const [drag, setDrag] = useState<{ type: string; x: number; y: number } | null>(null);
  const panel = useRef<HTMLDivElement>(null);
  const chooser = useRef<HTMLInputElement>(null);
  const groups = useMemo(() => {
    const result = new Map<string, string[]>();
    for (const p of searchParts(catalog.values(), text, text ? recent : [])) result.set(p.group, [...(result.get(p.group) ?? []), p.name]);
    return [...result].sort((a, b) => order(a[0]) - order(b[0]));
  }, [catalog, text, recent]);

  const outside = (x: number) => x > (panel.current?.getBoundingClientRect().right ?? 0);
  return (
    <section className={cx("catalog")} ref={panel} aria-label="Catalog of parts">
      <Input
        size="small"
        placeholder="Search parts"
        aria-label="Search parts"
        value={text}
        allowClear
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => e.key === "Escape" && showPane(null)}
      />
      <Button type="dashed" size="small" className={cx("catalog-new")} onClick={() => openPart(newOwnPart())}>
        New part from equations
      </Button>
      <Button type="dashed" size="small" className={cx("catalog-new")} onClick={() => chooser.current?.click()}>
        Exchange unit from a file
      </Button>
      <input
        ref={chooser}
        type="file"
        hidden
        aria-label="Exchange unit"
        accept=".fmu"
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = "";
          if (file) void importUnit(file);
        }}
      />
      <div className={cx("catalog-groups")}>
        {groups.map(([group, names]) => (
          <section key={group}>
            <h2 className="group-name">{group}</h2>
            {names.map((name) => {
              const p = catalog.get(name);
              if (!p) return null;
              return (
                <Button
                  key={name}
                  type="text"
                  className={cx("catalog-part")}
                  title={p.article ?? p.help ?? ""}
                  onPointerDown={(e) => {
                    e.currentTarget.setPointerCapture(e.pointerId);
                    setDrag({ type: name, x: e.clientX, y: e.clientY });
                  }}
                  onPointerMove={(e) => drag && setDrag({ ...drag, x: e.clientX, y: e.clientY })}
                  onPointerUp={(e) => {
                    if (drag && outside(e.clientX)) drop.current(name, { clientX: e.clientX, clientY: e.clientY });
                    setDrag(null);
                  }}
                  onKeyDown={(e) => {
                    if (e.key !== "Enter") return;
                    const box = window.document.querySelector("[role=application]")?.getBoundingClientRect();
                    if (box) drop.current(name, { clientX: box.left + box.width / 2, clientY: box.top + box.height / 2 });
                  }}
                >
                  <PartFace view={p.fresh} className={cx("catalog-face")} least={0.3} />
                  <span>{p.title}</span>
                </Button>
              );
            })}
          </section>
        ))}
        {groups.length === 0 && <p className="quiet">No part answers to "{text}".</p>}
      </div>
      {drag && outside(drag.x) && (
        <div className={cx("catalog-drag")} style={{ left: drag.x, top: drag.y }}>
          {catalog.get(drag.type)?.title}
        </div>
      )}
    </section>
  );
}
