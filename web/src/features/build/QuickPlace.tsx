import { useEffect, useMemo, useRef, useState } from "react";
import type { CatalogPart, PortView } from "../../api/client";
import { addPart } from "../../state/edits";
import type { Point, PortReference } from "../../state/document";
import { useBench } from "../../state/bench";
import { defaultView, fits, portOffset } from "../../canvas/geometry";

export interface PlaceRequest {
  at: Point;
  screen: Point;
  text: string;
  /** The wire's free end where the place was opened by dragging into the open. */
  from: { port: PortReference; view: PortView } | null;
  /** Place the named part without asking. */
  now?: boolean;
}

/** Ports of a part that a wire's free end could be joined to. */
function fittingPorts(part: CatalogPart, from: NonNullable<PlaceRequest["from"]>) {
  return defaultView(part).ports.filter(
    (p) => fits(from.view, p) && (p.kind === from.view.kind || p.kind === "any" || from.view.kind === "any"),
  );
}

/** Everything of a part that a search can meet, in small letters; made once for each part. */
const searchable = new WeakMap<CatalogPart, { title: string; keywords: string; all: string }>();

function textsOf(part: CatalogPart) {
  let texts = searchable.get(part);
  if (!texts) {
    const units = [...part.parameters.map((p) => p.unit), ...part.ports.map((p) => p.domain)].filter(Boolean).join(" ");
    const own = [
      part.title,
      part.name,
      part.group,
      part.keywords,
      part.help,
      part.article,
      units,
      part.operators.join(" "),
      part.equations.join(" "),
    ];
    texts = { title: part.title.toLowerCase(), keywords: part.keywords.toLowerCase(), all: own.join(" ").toLowerCase() };
    searchable.set(part, texts);
  }
  return texts;
}

/** Parts that answer a search, best first: by name, then by keyword, unit and equation; recent ones earlier. */
export function searchParts(catalog: Iterable<CatalogPart>, text: string, recent: readonly string[]): CatalogPart[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const whole = words.join(" ");
  const scored: [number, CatalogPart][] = [];
  for (const part of catalog) {
    const { title, keywords, all } = textsOf(part);
    if (!words.every((w) => all.includes(w))) continue;
    let score = title === whole ? 0 : title.startsWith(whole) ? 1 : title.includes(whole) ? 2 : keywords.includes(whole) ? 3 : 4;
    const lately = recent.indexOf(part.name);
    if (lately >= 0) score -= 0.9 - lately * 0.05;
    scored.push([score, part]);
  }
  return scored.sort((a, b) => a[0] - b[0] || a[1].title.localeCompare(b[1].title)).map(([, p]) => p);
}

export function QuickPlace({ request, onClose }: { request: PlaceRequest; onClose: () => void }) {
  const catalog = useBench((s) => s.catalog);
  const recent = useBench((s) => s.recent);
  const [text, setText] = useState(request.text);
  const [index, setIndex] = useState(0);
  const input = useRef<HTMLInputElement>(null);
  const found = useMemo(() => {
    const parts = request.from ? [...catalog.values()].filter((p) => fittingPorts(p, request.from as never).length > 0) : catalog.values();
    return searchParts(parts, text, recent).slice(0, 9);
  }, [catalog, text, recent, request.from]);

  const choose = (part: CatalogPart | undefined) => {
    if (!part) return;
    const view = defaultView(part);
    const port = request.from ? fittingPorts(part, request.from)[0] : undefined;
    let at = request.at;
    if (port && request.from) {
      // The joined port comes to lie where the wire was let go.
      const o = portOffset(view, port.name, false);
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
    if (request.now) {
      if (done.current) return;
      done.current = true;
      if (immediate) {
        const v = defaultView(immediate);
        addPart(immediate.name, { x: request.at.x - Number(v.width) / 2, y: request.at.y - Number(v.height) / 2 });
      }
      onClose();
    } else input.current?.focus();
  }, [request, immediate, onClose]);
  if (request.now) return null;

  return (
    <div className="quick-place" data-ui style={{ left: request.screen.x, top: request.screen.y }}>
      <input
        ref={input}
        value={text}
        placeholder={request.from ? "Parts that fit this wire" : "Name of a part"}
        aria-label="Name of the part to place"
        aria-activedescendant={found[index] ? `place-${found[index].name}` : undefined}
        role="combobox"
        aria-expanded
        aria-controls="place-list"
        onChange={(e) => {
          setText(e.target.value);
          setIndex(0);
        }}
        onKeyDown={(e) => {
          if (e.key === "Enter") choose(found[index]);
          else if (e.key === "Escape") onClose();
          else if (e.key === "ArrowDown") setIndex(Math.min(index + 1, found.length - 1));
          else if (e.key === "ArrowUp") setIndex(Math.max(index - 1, 0));
          else return;
          e.preventDefault();
        }}
      />
      <ul id="place-list" role="listbox">
        {found.map((p, i) => (
          <li
            key={p.name}
            id={`place-${p.name}`}
            role="option"
            aria-selected={i === index}
            onPointerDown={(e) => e.preventDefault()}
            onClick={() => choose(p)}
          >
            <span>{p.title}</span>
            <small>{p.group}</small>
          </li>
        ))}
        {found.length === 0 && <li className="quiet">No part is called so. Try another word, such as lag or limit.</li>}
      </ul>
    </div>
  );
}
