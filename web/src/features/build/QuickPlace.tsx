import classNames from "classnames/bind";
import { useEffect, useMemo, useRef, useState } from "react";
import type { CatalogPart, PortView } from "../../api/client";
import { addPart } from "../../state/edits";
import { placeChart } from "../../state/charts";
import { placeDecisions, placeSchedule } from "../../state/tables";
import { placeValve } from "../../state/valves";
import { restructure } from "../../state/model";
import type { Point, PortReference } from "../../state/document";
import { useBench } from "../../state/bench";
import { searchParts } from "../../state/catalogSearch";
import { fits, portOffset } from "../../canvas/geometry";
import { OptionList } from "../../ui/OptionList";
import styles from "./build.module.css";

const cx = classNames.bind(styles);

export interface PlaceRequest {
  at: Point;
  screen: Point;
  text: string;
  /** The wire's free end where the place was opened by dragging into the open. */
  from: { port: PortReference; view: PortView } | null;
  /** The part whose place the chosen one takes. */
  replacing?: string;
  /** Place the named part without asking. */
  now?: boolean;
}

/** Ports of a part that a wire's free end could be joined to. */
function fittingPorts(part: CatalogPart, from: NonNullable<PlaceRequest["from"]>) {
  return part.fresh.ports.filter((p) => fits(from.view, p) && (p.kind === from.view.kind || p.kind === "any" || from.view.kind === "any"));
}

export function QuickPlace({ request, onClose }: { request: PlaceRequest; onClose: () => void }) {
  const catalog = useBench((s) => s.catalog);
  const recent = useBench((s) => s.recent);
  const [text, setText] = useState(request.text);
  const found = useMemo(() => {
    const parts = request.from ? [...catalog.values()].filter((p) => fittingPorts(p, request.from as never).length > 0) : catalog.values();
    return searchParts(parts, text, recent).slice(0, 9);
  }, [catalog, text, recent, request.from]);

  const choose = (part: CatalogPart) => {
    if (request.replacing) {
      void restructure({ kind: "replacePart", part: request.replacing, type: part.name });
      return onClose();
    }
    const view = part.fresh;
    const port = request.from ? fittingPorts(part, request.from)[0] : undefined;
    let at = request.at;
    if (port && request.from) {
      // The joined port comes to lie where the wire was let go.
      const o = portOffset(view, port.name, {});
      at = { x: at.x - o.x, y: at.y - o.y };
    }
    addPart(
      part.name,
      at,
      port && request.from ? { port: request.from.port, isInput: request.from.view.isInput, with: port.name } : undefined,
    );
    onClose();
  };

  const immediate = request.now ? catalog.get(request.text) : undefined;
  const done = useRef(false);
  useEffect(() => {
    if (!request.now || done.current) return;
    done.current = true;
    if (immediate) {
      const { width, height } = immediate.fresh;
      addPart(immediate.name, { x: request.at.x - width / 2, y: request.at.y - height / 2 });
    }
    onClose();
  }, [request, immediate, onClose]);
  if (request.now) return null;

  const fresh = [
    { label: "State chart", place: placeChart },
    { label: "Decision table", place: placeDecisions },
    { label: "Schedule", place: placeSchedule },
    { label: "Directional valve from its symbol", place: placeValve },
  ]
    .filter((f) => !request.from && !request.replacing && text.length > 1 && f.label.toLowerCase().includes(text.trim().toLowerCase()))
    .map((f) => ({
      label: f.label,
      note: "new definition",
      choose: () => {
        void f.place(request.at);
        onClose();
      },
    }));

  // What is typed from its beginning on stands before parts that only tell of it.
  const begins = (name: string) => name.toLowerCase().startsWith(text.trim().toLowerCase());
  const isBegun = ({ label }: { label: string }) =>
    label.toLowerCase() === text.trim().toLowerCase() || (begins(label) && !found.some((p) => begins(p.title)));

  return (
    <div className={cx("quick-place")} data-ui style={{ left: request.screen.x, top: request.screen.y }}>
      <OptionList
        label="Name of the part to place"
        placeholder={request.replacing ? "Replace by" : request.from ? "Parts that fit this wire" : "Name of a part"}
        text={text}
        onText={setText}
        options={[
          ...fresh.filter(isBegun),
          ...found.map((p) => ({ label: p.title, note: p.group, choose: () => choose(p) })),
          ...fresh.filter((f) => !isBegun(f)),
        ]}
        nothing="No part is called so. Try another word, such as lag or limit."
        onEscape={onClose}
      />
    </div>
  );
}
