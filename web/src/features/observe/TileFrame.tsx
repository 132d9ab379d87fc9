import classNames from "classnames/bind";
import { Button, Dropdown } from "antd";
import { useEffect, useRef, useState } from "react";
import { useBench } from "../../state/bench";
import { addCurve, COLUMNS, putResponse, removeTile, ROWS, setTile, type Tile, type TileKind } from "../../state/plotSheets";
import { TILE } from "./plotPictures";
import { SavePicture } from "./SavePicture";
import { StripsTile } from "./StripsTile";
import { AgainstTile, HistogramTile, OrdersTile, SpectrumTile } from "./PlotTiles";
import { ResponseTile } from "./ResponseTile";
import { BandsTile, NumberTile, TableTile } from "./ReadingTiles";
import SceneTile from "./SceneTile";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

/** The kinds of tiles, in the order of menus. */
export const kinds: readonly { kind: TileKind; label: string }[] = [
  { kind: "strips", label: "Strips over time" },
  { kind: "against", label: "Quantity against quantity" },
  { kind: "spectrum", label: "Spectrum" },
  { kind: "orders", label: "Orders of a speed" },
  { kind: "histogram", label: "Histogram" },
  { kind: "table", label: "Table" },
  { kind: "number", label: "Number" },
  { kind: "bands", label: "Bands" },
  { kind: "response", label: "Linear response" },
  { kind: "scene", label: "Scene" },
];

/** Below this width, values stand above a strip instead of beside it. */
const WIDE = 480;

interface Drag {
  how: "move" | "size";
  x: number;
  y: number;
  place: Pick<Tile, "x" | "y" | "width" | "height">;
}

const fits = (v: number, least: number, most: number) => Math.min(most, Math.max(least, Math.round(v)));

/** A tile of a sheet: its place, its title, and what it shows. */
export function TileFrame({ id, tile, title, cell }: { id: string; tile: Tile; title: string; cell: { width: number; height: number } }) {
  const selected = useBench((s) => s.tile?.id === id);
  const [drag, setDrag] = useState<Drag | null>(null);
  const [isOver, setOver] = useState(false);
  const [saving, setSaving] = useState(false);
  const frame = useRef<HTMLElement>(null);
  const body = useRef<HTMLDivElement>(null);
  const [wide, setWide] = useState(true);
  useEffect(() => {
    if (!body.current) return;
    const watch = new ResizeObserver(([entry]) => entry && setWide(entry.contentRect.width >= WIDE));
    watch.observe(body.current);
    return () => watch.disconnect();
  }, []);
  const place = drag?.place ?? tile;
  const begin = (how: Drag["how"]) => (e: React.PointerEvent) => {
    if (e.button !== 0) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    useBench.setState({ tile: { id, curve: null } });
    setDrag({ how, x: e.clientX, y: e.clientY, place: { x: tile.x, y: tile.y, width: tile.width, height: tile.height } });
  };
  const move = (e: React.PointerEvent) => {
    if (!drag) return;
    const [dx, dy] = [(e.clientX - drag.x) / cell.width, (e.clientY - drag.y) / cell.height];
    const next =
      drag.how === "move"
        ? { ...drag.place, x: fits(tile.x + dx, 0, COLUMNS - tile.width), y: fits(tile.y + dy, 0, 1000) }
        : { ...drag.place, width: fits(tile.width + dx, 2, COLUMNS - tile.x), height: fits(tile.height + dy, 2, 200) };
    setDrag({ ...drag, place: next });
  };
  const end = () => {
    if (drag && (["x", "y", "width", "height"] as const).some((k) => drag.place[k] !== tile[k]))
      setTile(id, drag.how === "move" ? "Move a plot" : "Resize a plot", drag.place);
    setDrag(null);
  };
  const byKey = (e: React.KeyboardEvent) => {
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    if (e.key === "Delete") return removeTile(id);
    if (!step) return;
    e.preventDefault();
    const [dx, dy] = step as [number, number];
    if (e.shiftKey)
      setTile(id, "Resize a plot", {
        width: fits(tile.width + dx, 2, COLUMNS - tile.x),
        height: fits(tile.height + dy, 2, 200),
      });
    else setTile(id, "Move a plot", { x: fits(tile.x + dx, 0, COLUMNS - tile.width), y: fits(tile.y + dy, 0, 1000) });
  };
  return (
    <section
      ref={frame}
      {...{ [TILE]: title }}
      className={cx("tile", { selected, over: isOver })}
      aria-label={title}
      style={{
        gridColumn: `${place.x + 1} / span ${place.width}`,
        gridRow: `${place.y + 1} / span ${place.height}`,
      }}
      onDragOver={(e) => {
        if (!e.dataTransfer.types.includes("text/signal")) return;
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        setOver(false);
        const signal = e.dataTransfer.getData("text/signal");
        if (signal) drop(id, tile, signal, e);
      }}
    >
      <div className={cx("tile-head")}>
        <Button
          type="text"
          size="small"
          className={cx("tile-title")}
          aria-label={`${title}: move with the arrow keys, resize with Shift`}
          onPointerDown={begin("move")}
          onPointerMove={move}
          onPointerUp={end}
          onKeyDown={byKey}
          onClick={() => useBench.setState({ tile: { id, curve: null } })}
        >
          {title}
        </Button>
        <Dropdown
          trigger={["click"]}
          menu={{
            items: [
              {
                key: "kind",
                label: "Show as",
                children: kinds.map((k) => ({
                  key: k.kind,
                  label: k.label,
                  disabled: k.kind === tile.kind,
                  onClick: () => setTile(id, "Change a plot", { kind: k.kind }),
                })),
              },
              {
                key: "fill",
                label: "Fill the sheet’s width",
                onClick: () => setTile(id, "Resize a plot", { x: 0, width: COLUMNS, height: Math.max(tile.height, ROWS / 2) }),
              },
              { key: "picture", label: "Save as a picture", onClick: () => setSaving(true) },
              { key: "remove", label: "Remove", onClick: () => removeTile(id) },
            ],
          }}
        >
          <Button type="text" size="small" className={cx("tile-menu")} aria-label={`What can be done with ${title}`}>
            ⋯
          </Button>
        </Dropdown>
      </div>
      <div className={cx("tile-body")} ref={body} data-kind={tile.kind}>
        <Content id={id} tile={tile} title={title} wide={wide} />
      </div>
      {saving && <SavePicture host={() => frame.current} name={title} onClose={() => setSaving(false)} />}
      <div className={cx("tile-corner")} aria-hidden onPointerDown={begin("size")} onPointerMove={move} onPointerUp={end} />
    </section>
  );
}

/** Adds a dropped signal: to the strip under the pointer, in a strip of its own near the bottom. */
function drop(id: string, tile: Tile, signal: string, e: React.DragEvent): void {
  if (tile.kind === "response") return putResponse(id, tile, tile.response?.from ? { to: signal } : { from: signal });
  if (tile.kind === "against" && !tile.abscissa) return setTile(id, "Choose what stands along the bottom", { abscissa: signal });
  const strips = Math.max(-1, ...Object.values(tile.curves).map((c) => c.strip)) + 1;
  if (tile.kind !== "strips" || strips === 0) return addCurve(id, signal);
  const box = e.currentTarget.getBoundingClientRect();
  const part = (e.clientY - box.top) / box.height;
  // The lowest eighth opens a strip.
  addCurve(id, signal, { strip: part > 0.88 ? strips : Math.min(strips - 1, Math.floor(part * strips)) });
}

function Content({ id, tile, title, wide }: { id: string; tile: Tile; title: string; wide: boolean }) {
  switch (tile.kind) {
    case "strips":
      return <StripsTile id={id} tile={tile} wide={wide} />;
    case "against":
      return <AgainstTile id={id} tile={tile} />;
    case "spectrum":
      return <SpectrumTile id={id} tile={tile} />;
    case "orders":
      return <OrdersTile id={id} tile={tile} />;
    case "histogram":
      return <HistogramTile id={id} tile={tile} />;
    case "table":
      return <TableTile tile={tile} />;
    case "number":
      return <NumberTile tile={tile} />;
    case "response":
      return <ResponseTile tile={tile} />;
    case "bands":
      return <BandsTile tile={tile} />;
    case "scene":
      return <SceneTile title={title} views={tile.views} keep={(views) => setTile(id, "Keep views of the scene", { views: [...views] })} />;
  }
}
