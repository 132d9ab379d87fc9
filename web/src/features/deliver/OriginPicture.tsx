import { Button } from "antd";
import classNames from "classnames/bind";
import { useEffect, useMemo, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type ModelView, type PartView } from "../../api/client";
import { frameOf, LevelPicture } from "../../canvas/LevelPicture";
import { PartFace } from "../../canvas/PartFace";
import { RouteCache } from "../../canvas/routes";
import { notifyError, setStage, useBench } from "../../state/bench";
import { lookAt, useDeliveries, type Delivery, type WrittenCode } from "../../state/deliveries";
import { levelAt } from "../../state/document";
import { goToLevel } from "../../state/model";
import { tokens } from "../../ui/tokens";
import styles from "./deliver.module.css";

const cx = classNames.bind(styles);

/** The diagram that code comes from: the part of the chosen line is set off, and a part leads to its first line. */
export function OriginPicture({ node, code }: { node: Delivery; code: WrittenCode }) {
  const { id, model, revision } = useBench(useShallow((s) => ({ id: s.id, model: s.model, revision: s.revision })));
  const { file: chosen, line } = useDeliveries(useShallow((s) => ({ file: s.file, line: s.line })));
  const [view, setView] = useState<{ level: string; of: ModelView } | null>(null);
  // What has no diagram of its own is shown where it stands.
  const inner = levelAt(model, node.part);
  const hasDiagram = inner !== null && Object.keys(inner.diagram.parts).length > 0;
  const level = hasDiagram ? node.part : node.part.slice(0, Math.max(0, node.part.lastIndexOf("/")));
  useEffect(() => {
    let wanted = true;
    ask(api.GET("/api/models/{id}", { params: { path: { id }, query: { level } } })).then(
      (opened) => wanted && setView({ level, of: opened.view }),
      (e: Error) => wanted && notifyError(e.message),
    );
    return () => {
      wanted = false;
    };
  }, [id, level, revision]);
  const diagram = levelAt(model, level)?.diagram;
  const routes = useMemo(() => (diagram && view ? new RouteCache().routes(diagram, view.of.parts, null) : null), [diagram, view]);
  const file = code.files.find((f) => f.name === chosen) ?? code.files.find((f) => f.name.endsWith(".c"));
  // Of a slot the realisation is set off that the code is of, which need not be the one that is in.
  const place =
    line !== null
      ? file?.lines.find((l) => Number(l.line) === line)?.place
      : node.alternative
        ? file?.lines.find((l) => l.place !== "")?.place
        : undefined;
  const at = !hasDiagram ? node.part.slice(level === "" ? 0 : level.length + 1) : place?.split("/")[0];
  const first = (part: string) => {
    const found = file?.lines.find((l) => l.place === part || l.place.startsWith(`${part}/`));
    lookAt(found ? Number(found.line) : null);
  };
  const [spot, box] = at && view ? [diagram?.parts[at], view.of.parts[at]] : [];
  return (
    <section className={cx("origin")} aria-label="Where it comes from">
      <div className={cx("pane-head")}>
        <b>Where it comes from</b>
        <span className={`quiet ${cx("quiet-words")}`}>{hasDiagram ? "one click either way" : "it is written, not drawn"}</span>
        <Button size="small" onClick={() => void goToLevel(level).then(() => setStage("build"))}>
          Open in Build
        </Button>
      </div>
      <div
        className={cx("picture")}
        // Beside all parts: the whole level again.
        onClick={(e) => !(e.target as Element).closest("g, button") && lookAt(null)}
      >
        {diagram && view?.level === level && routes ? (
          <LevelPicture
            frame={frameAround(
              frameOf(diagram, view.of.parts, routes),
              spot && box && { ...spot, width: Number(box.width), height: Number(box.height) },
            )}
            diagram={diagram}
            views={view.of.parts}
            routes={routes}
            face={onScreen}
            onPick={hasDiagram ? first : undefined}
          >
            {spot && box && (
              <rect
                x={spot.x - 5}
                y={spot.y - 5}
                width={Number(box.width) + 10}
                height={Number(box.height) + 10}
                rx="6"
                fill="none"
                stroke={tokens.buoy}
                strokeWidth="2.5"
                pointerEvents="none"
                data-place={at}
              />
            )}
          </LevelPicture>
        ) : (
          <p className="quiet">Drawing …</p>
        )}
      </div>
      <p className={cx("spot")} role="status">
        {line === null
          ? "Choose a line, or a part."
          : place
            ? `Line ${line}: ${file?.lines.find((l) => Number(l.line) === line)?.part.replaceAll(".", " / ")}`
            : `Line ${line}: ${hasDiagram || node.part === "" ? "the whole" : node.name}`}
      </p>
    </section>
  );
}

/** A face as the page draws it. */
const onScreen = (view: PartView, width: number, height: number) => (
  <foreignObject width={width} height={height}>
    <PartFace view={view} className={cx("face")} least={0.4} />
  </foreignObject>
);

interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A level wider than this is too small to read whole; then the part that is looked at stands in the middle of a piece of it. */
const READABLE = 1000,
  PIECE = 560;

export function frameAround(all: Box, part: Box | undefined): Box {
  if (!part || all.width <= READABLE) return all;
  const size = { width: PIECE, height: Math.min(all.height, PIECE) };
  const within = (middle: number, length: number, from: number, room: number) =>
    Math.max(from, Math.min(middle - length / 2, from + room - length));
  return {
    x: within(part.x + part.width / 2, size.width, all.x, all.width),
    y: within(part.y + part.height / 2, size.height, all.y, all.height),
    ...size,
  };
}
