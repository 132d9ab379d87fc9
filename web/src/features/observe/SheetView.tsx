import classNames from "classnames/bind";
import { Button, Dropdown, Input } from "antd";
import { useEffect, useMemo, useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { setStage, showPane, useBench } from "../../state/bench";
import { goToRange, stepRange } from "../../state/observe";
import {
  addSheet,
  addTile,
  PLOTTED,
  removeSheet,
  renameSheet,
  ROWS,
  sheetsOf,
  shownSheet,
  showSheet,
  type Tile,
} from "../../state/plotSheets";
import { infoOf } from "../../state/signals";
import { responseTitle } from "./ResponseTile";
import { SaveCurves } from "./SaveCurves";
import { SavePicture } from "./SavePicture";
import { templates } from "./templates";
import { kinds, TileFrame } from "./TileFrame";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

/** A sheet of plots: tabs, what can be done with it, and its tiles. */
export function SheetView() {
  const { model, sheet, infos } = useBench(useShallow((s) => ({ model: s.model, sheet: s.sheet, infos: s.infos })));
  const [shown, node] = useMemo(() => shownSheet({ model, sheet }), [model, sheet]);
  const host = useRef<HTMLDivElement>(null);
  const [cell, setCell] = useState({ width: 60, height: 36 });
  useEffect(() => {
    const element = host.current;
    if (!element) return;
    const watch = new ResizeObserver(() =>
      setCell({ width: element.clientWidth / 12, height: Math.max(26, Math.floor((element.clientHeight - 24) / ROWS)) }),
    );
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  const tiles = Object.entries(node.tiles);
  const titleOf = (tile: Tile) => {
    if (tile.title) return tile.title;
    if (tile.response) return responseTitle(tile.response, infos);
    const names = [...new Set(Object.values(tile.curves).map((c) => infoOf(infos, c.signal)?.view.label ?? c.signal))];
    const kind = kinds.find((k) => k.kind === tile.kind)?.label ?? "";
    return names.length === 0 ? kind : names.slice(0, 3).join(", ") + (names.length > 3 ? ` and ${names.length - 3} more` : "");
  };
  return (
    <div className={cx("sheet")}>
      <Tabs shown={shown} host={host} />
      <div className={cx("grid")} ref={host} style={{ gridAutoRows: cell.height }} role="group" aria-label={`Sheet ${node.name}`}>
        {tiles.map(([id, tile]) => (
          <TileFrame key={id} id={id} tile={tile} title={titleOf(tile)} cell={cell} />
        ))}
        {tiles.every(([, t]) => Object.keys(t.curves).length === 0 && !t.response && t.kind !== "scene") && (
          <p className={cx("hint")}>
            {tiles.length === 0 ? "This sheet is empty. " : "Nothing is plotted here yet. "}
            Find a signal at the left and press Enter, or drag it here. Or{" "}
            <Button type="link" size="small" onClick={() => (setStage("build"), showPane(null))}>
              select a wire on the diagram and plot it
            </Button>
            .
          </p>
        )}
      </div>
    </div>
  );
}

function Tabs({ shown, host }: { shown: string; host: React.RefObject<HTMLElement | null> }) {
  const { model, mark, time, zooms, range, part } = useBench(
    useShallow((s) => ({
      model: s.model,
      mark: s.mark,
      time: s.time,
      zooms: s.zooms,
      range: s.range,
      part: s.selection.size === 1 ? ([...s.selection][0] ?? null) : null,
    })),
  );
  const [renaming, setRenaming] = useState<string | null>(null);
  const [saving, setSaving] = useState<"picture" | "data" | null>(null);
  const sheets = sheetsOf(model);
  const name = sheets.find(([id]) => id === shown)?.[1].name ?? "";
  const end = useBench((s) => Number(s.run?.end ?? 1));
  return (
    <div className={cx("tabs")} role="toolbar" aria-label="Sheets of plots">
      {sheets.map(([id, node]) =>
        renaming === id ? (
          <Input
            key={id}
            size="small"
            autoFocus
            aria-label="Name of the sheet"
            className={cx("tab-name")}
            defaultValue={node.name}
            onBlur={(e) => {
              if (e.target.value.trim() && e.target.value.trim() !== node.name) renameSheet(id, e.target.value.trim());
              setRenaming(null);
            }}
            onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
          />
        ) : (
          <Button
            key={id}
            type="text"
            size="small"
            className={cx("tab", { on: id === shown })}
            aria-pressed={id === shown}
            title={id === PLOTTED ? "What is plotted on the diagram" : "Double-click to rename"}
            onClick={() => showSheet(id)}
            onDoubleClick={() => id !== PLOTTED && setRenaming(id)}
            onKeyDown={(e) => {
              if (id === PLOTTED) return;
              if (e.key === "F2") setRenaming(id);
              else if (e.key === "Delete") removeSheet(id);
            }}
          >
            {node.name}
          </Button>
        ),
      )}
      <Dropdown
        trigger={["click"]}
        menu={{
          items: [
            { key: "empty", label: "Empty sheet", onClick: () => void addSheet() },
            ...templates(part).map((t) => ({ key: t.label, label: t.label, onClick: () => t.make() })),
          ],
        }}
      >
        <Button type="text" size="small" className={cx("tab")} aria-label="New sheet">
          +
        </Button>
      </Dropdown>
      <span className={cx("tools")}>
        <Dropdown trigger={["click"]} menu={{ items: kinds.map((k) => ({ key: k.kind, label: k.label, onClick: () => addTile(k.kind) })) }}>
          <Button size="small">Add plot</Button>
        </Dropdown>
        <Button size="small" aria-label="Back to the stretch before" disabled={zooms.back.length === 0} onClick={() => stepRange("back")}>
          ‹
        </Button>
        <Button size="small" aria-label="Forward again" disabled={zooms.forward.length === 0} onClick={() => stepRange("forward")}>
          ›
        </Button>
        <Button size="small" disabled={range === null} onClick={() => goToRange(null)}>
          Fit
        </Button>
        <Button
          size="small"
          aria-pressed={mark !== null}
          className={cx({ pressed: mark !== null })}
          title="A second instant: Shift and a click set it"
          onClick={() => useBench.setState(mark === null ? { mark: (time ?? end) / 2, time: time ?? end } : { mark: null })}
        >
          Two instants
        </Button>
        <Dropdown
          trigger={["click"]}
          menu={{
            items: [
              { key: "picture", label: "Save as a picture", onClick: () => setSaving("picture") },
              { key: "data", label: "Save or copy the data", onClick: () => setSaving("data") },
              ...(shown === PLOTTED
                ? []
                : [
                    { key: "name", label: "Rename", onClick: () => setRenaming(shown) },
                    { key: "remove", label: "Remove this sheet", onClick: () => removeSheet(shown) },
                  ]),
            ],
          }}
        >
          <Button size="small" aria-label={`What can be done with the sheet ${name}`}>
            ⋯
          </Button>
        </Dropdown>
      </span>
      {saving === "picture" && <SavePicture host={() => host.current} name={name} onClose={() => setSaving(null)} />}
      {saving === "data" && <SaveCurves onClose={() => setSaving(null)} />}
    </div>
  );
}
