import { inView } from "./freePlace";
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { copySelected, moveParts, paste, snap } from "../state/edits";
import type { Point, PortReference, WireNode } from "../state/document";
import { edit, here } from "../state/model";
import { select, useBench } from "../state/bench";
import { boundsOf, branchPoints, nearestSegment, pathData, wiresBySource } from "./geometry";
import { draftPoints, dropOnWire, finishWire, partsInBox, placeOf, portOf, targetAt, type Scene } from "./gestures";
import { diagramKey } from "./diagramKeys";
import { PartPlate } from "./PartPlate";
import { QuickPlace, type PlaceRequest } from "./QuickPlace";
import { act } from "../state/edits";
import { draggedCorners, toDiagram, zoomAt, type Tool, type Viewport } from "./tools";
import { SignalTags } from "./SignalTags";
import { usePartViews, useRoutes } from "./useDiagramView";
import { Markers, Wire } from "./Wires";
import { DiagramToolbar } from "./DiagramToolbar";

const idle: Tool = { kind: "idle" };

export function Diagram() {
  const { diagram, view, selection } = useBench(useShallow((s) => ({ diagram: s.diagram, view: s.view, selection: s.selection })));
  const views = usePartViews();
  const host = useRef<HTMLDivElement>(null);
  const world = useRef<HTMLDivElement>(null);
  const viewport = useRef<Viewport>({ x: 0, y: 0, zoom: 1 });
  const [zoom, setZoom] = useState(1);
  const [tool, setTool] = useState<Tool>(idle);
  const [placing, setPlacing] = useState<PlaceRequest | null>(null);
  const pointerAt = useRef<Point>({ x: 200, y: 160 });

  const show = useCallback((v: Viewport) => {
    viewport.current = v;
    const box = host.current?.getBoundingClientRect();
    if (box) inView.middle = toDiagram(v, { x: box.width / 2, y: box.height / 2 });
    if (world.current) world.current.style.transform = `translate(${v.x}px, ${v.y}px) scale(${v.zoom})`;
    if (host.current) {
      host.current.style.backgroundPosition = `${v.x}px ${v.y}px`;
      host.current.style.backgroundSize = `${16 * v.zoom}px ${16 * v.zoom}px`;
      host.current.dataset.detail = v.zoom < 0.35 ? "low" : v.zoom < 0.6 ? "middle" : "high";
    }
    setZoom(v.zoom);
  }, []);

  const fit = useCallback(() => {
    const box = host.current?.getBoundingClientRect();
    if (!box) return;
    const { diagram: d } = useBench.getState();
    const b = boundsOf([
      ...Object.entries(d.parts).map(([id, p]) => ({
        x: p.x,
        y: p.y - 12,
        width: Number(views[id]?.width ?? 64),
        height: Number(views[id]?.height ?? 48) + 12,
      })),
      ...Object.values(d.areas),
      ...Object.values(d.wires).flatMap((w) => w.bends.map((p) => ({ ...p, width: 0, height: 0 }))),
    ]);
    const z = Math.min(1, (box.width - 48) / b.width, (box.height - 76) / b.height);
    show({ zoom: z, x: (box.width - b.width * z) / 2 - b.x * z, y: (box.height - b.height * z) / 2 - b.y * z + 18 });
  }, [show, views]);

  const fitted = useRef(false);
  useLayoutEffect(() => {
    if (fitted.current) return;
    fitted.current = true;
    fit();
  }, [fit]);

  // The wheel must not scroll the page, which only a listener that is not passive can prevent.
  useEffect(() => {
    const element = host.current;
    if (!element) return;
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const box = element.getBoundingClientRect();
      const at = { x: e.clientX - box.left, y: e.clientY - box.top };
      if (e.shiftKey) show({ ...viewport.current, x: viewport.current.x - e.deltaY });
      else show(zoomAt(viewport.current, at, Math.exp(-e.deltaY * 0.0015)));
    };
    element.addEventListener("wheel", wheel, { passive: false });
    return () => element.removeEventListener("wheel", wheel);
  }, [show]);

  const shift = tool.kind === "move" && tool.moved ? tool : null;
  const routes = useRoutes(views, shift && !shift.copy ? shift : null);
  const sources = useMemo(() => wiresBySource(diagram.wires), [diagram.wires]);
  const wired = useMemo(() => {
    const result: Record<string, string> = {};
    for (const w of Object.values(diagram.wires))
      for (const end of [w.from, w.to]) result[end.part] = `${result[end.part] ?? ""}|${end.port}`;
    return result;
  }, [diagram.wires]);
  const flags = useMemo(() => {
    const result: Record<string, "error" | "warning"> = {};
    // What is found further in stands on the part that leads there.
    const prefix = view.level ? `${view.level}/` : "";
    for (const f of view.findings) {
      if (!f.part?.startsWith(prefix) || f.severity === "information") continue;
      const part = f.part.slice(prefix.length).split("/")[0] as string;
      if (result[part] !== "error") result[part] = f.severity as "error" | "warning";
    }
    return result;
  }, [view.findings, view.level]);

  const at = (e: { clientX: number; clientY: number }): Point => {
    const box = host.current?.getBoundingClientRect();
    return toDiagram(viewport.current, { x: e.clientX - (box?.left ?? 0), y: e.clientY - (box?.top ?? 0) });
  };

  const scene: Scene = { diagram, views, routes };
  const place = (ref: PortReference) => placeOf(scene, ref);

  const down = (e: React.PointerEvent) => {
    if (placing) setPlacing(null);
    host.current?.focus({ preventScroll: true });
    const p = at(e);
    const element = e.target as HTMLElement;
    if (element.closest("[data-ui]")) return;
    host.current?.setPointerCapture(e.pointerId);
    if (e.button === 1 || e.button === 2) {
      setTool({ kind: "pan", start: { x: e.clientX, y: e.clientY }, offset: { x: viewport.current.x, y: viewport.current.y } });
      return;
    }
    const part = element.closest<HTMLElement>("[data-part]")?.dataset.part;
    if (part && element.dataset.sign) {
      const turn = views[part]?.ports.find((p) => p.name === element.dataset.sign)?.action;
      if (turn) act(turn);
      return;
    }
    if (part && element.dataset.port) {
      const isInput = element.dataset.input === "true";
      const port = { part, port: element.dataset.port };
      // Pulling at a wired input takes the end of that wire along.
      const entry = isInput ? Object.entries(diagram.wires).find(([, w]) => w.to.part === part && w.to.port === port.port) : undefined;
      if (entry)
        setTool({
          kind: "wire",
          port: entry[1].from,
          isInput: false,
          start: place(entry[1].from),
          now: p,
          bends: [],
          replacing: entry[0],
          target: null,
        });
      else setTool({ kind: "wire", port, isInput, start: place(port), now: p, bends: [], target: null });
      return;
    }
    if (part) {
      const more = e.shiftKey;
      const ids = selection.has(part) ? new Set(selection) : more ? new Set([...selection, part]) : new Set([part]);
      if (!selection.has(part)) select(ids);
      setTool({
        kind: "move",
        start: p,
        dx: 0,
        dy: 0,
        ids: new Set([...ids].filter((i) => i in diagram.parts)),
        copy: e.altKey || e.ctrlKey || e.metaKey,
        clicked: part,
        moved: false,
      });
      return;
    }
    const wire = element.dataset.wire;
    if (wire) {
      const points = routes.get(wire) ?? [];
      const near = nearestSegment(points, p);
      const w = diagram.wires[wire];
      if ((e.altKey || e.ctrlKey || e.metaKey) && w) {
        // Branch: the new wire follows the old one up to here.
        const corners = [...points.slice(1, near.index + 1), near.point];
        setTool({
          kind: "wire",
          port: w.from,
          isInput: false,
          start: { x: snap(near.point.x), y: snap(near.point.y) },
          now: p,
          bends: corners,
          target: null,
        });
        return;
      }
      select(e.shiftKey ? [...selection, wire] : [wire]);
      const a = points[near.index];
      const b = points[near.index + 1];
      if (a && b) setTool({ kind: "segment", wire, index: near.index, vertical: a.x === b.x && a.y !== b.y, points, start: p, now: p });
      return;
    }
    setTool({ kind: "box", start: p, now: p, add: e.shiftKey });
  };

  const moveTo = (e: React.PointerEvent) => {
    const p = at(e);
    pointerAt.current = p;
    switch (tool.kind) {
      case "pan":
        show({ ...viewport.current, x: tool.offset.x + e.clientX - tool.start.x, y: tool.offset.y + e.clientY - tool.start.y });
        break;
      case "box":
        setTool({ ...tool, now: p });
        break;
      case "move": {
        const [dx, dy] = [snap(p.x - tool.start.x), snap(p.y - tool.start.y)];
        if (dx !== tool.dx || dy !== tool.dy) setTool({ ...tool, dx, dy, moved: true });
        break;
      }
      case "wire":
        setTool({ ...tool, now: p, target: targetAt(scene, p, tool.port) });
        break;
      case "segment":
        setTool({ ...tool, now: { x: snap(p.x), y: snap(p.y) } });
        break;
    }
  };

  const up = (e: React.PointerEvent) => {
    const p = at(e);
    setTool(idle);
    switch (tool.kind) {
      case "box": {
        if (Math.abs(p.x - tool.start.x) < 4 && Math.abs(p.y - tool.start.y) < 4) {
          if (!tool.add) select([]);
          break;
        }
        const inside = partsInBox(scene, tool.start, p);
        select(tool.add ? [...selection, ...inside] : inside);
        break;
      }
      case "move":
        if (!tool.moved) {
          if (e.shiftKey && selection.has(tool.clicked) && selection.size > 1) select([...selection].filter((i) => i !== tool.clicked));
          else if (!e.shiftKey) select([tool.clicked]);
        } else if (tool.copy) {
          select(tool.ids);
          paste(copySelected(), tool.dx, tool.dy, "Copy");
        } else {
          moveParts(tool.ids, tool.dx, tool.dy);
          if (tool.ids.size === 1) dropOnWire(scene, tool.clicked, p);
        }
        break;
      case "wire":
        if (finishWire(scene, tool, p)) {
          const box = host.current?.getBoundingClientRect();
          const port = portOf(scene, tool.port);
          setPlacing({
            at: { x: snap(p.x), y: snap(p.y) },
            screen: { x: e.clientX - (box?.left ?? 0), y: e.clientY - (box?.top ?? 0) },
            text: "",
            from: port ? { port: tool.port, view: port } : null,
          });
        }
        break;
      case "segment": {
        if (Math.hypot(tool.now.x - tool.start.x, tool.now.y - tool.start.y) < 5 || tool.now === tool.start) break;
        const corners = draggedCorners(tool.points, tool.index, tool.vertical, tool.now);
        edit("Bend", [{ op: "replace", path: here("wires", tool.wire, "bends"), value: corners }]);
        break;
      }
    }
  };

  const key = (e: React.KeyboardEvent) =>
    diagramKey(e, {
      viewport: viewport.current,
      show,
      fit,
      openPlacing,
      cancel: () => {
        setTool(idle);
        setPlacing(null);
      },
      size: () => host.current?.getBoundingClientRect() ?? new DOMRect(),
    });

  const openPlacing = (text: string) => {
    const p = pointerAt.current;
    const v = viewport.current;
    const box = host.current?.getBoundingClientRect();
    const inside = {
      x: Math.min(Math.max(p.x * v.zoom + v.x, 40), (box?.width ?? 600) - 320),
      y: Math.min(Math.max(p.y * v.zoom + v.y, 40), (box?.height ?? 400) - 200),
    };
    const d = toDiagram(v, inside);
    setPlacing({ at: { x: snap(d.x), y: snap(d.y) }, screen: inside, text, from: null });
  };

  const draft = tool.kind === "wire" ? draftPoints(scene, tool) : null;
  const box = tool.kind === "box" ? tool : null;

  return (
    <div
      className={`diagram tool-${tool.kind}`}
      ref={host}
      tabIndex={0}
      role="application"
      aria-label="Diagram. Type to place a part, Tab to go through parts, arrow keys to move."
      onPointerDown={down}
      onPointerMove={moveTo}
      onPointerUp={up}
      onKeyDown={key}
      onContextMenu={(e) => e.preventDefault()}
      onDoubleClick={(e) => {
        if (e.target === host.current || (e.target as Element).tagName === "svg") openPlacing("");
      }}
    >
      <div className="world" ref={world}>
        {Object.entries(diagram.areas).map(([id, a]) => (
          <div key={id} className="area" style={{ left: a.x, top: a.y, width: a.width, height: a.height }}>
            {a.text}
          </div>
        ))}
        <svg className="wires" width="1" height="1">
          <Markers />
          {[...routes].map(([id, points]) => {
            const w = diagram.wires[id];
            if (!w) return null;
            const own = tool.kind === "segment" && tool.wire === id && tool.now !== tool.start;
            const port = portOf({ views }, w.from);
            const shown = own
              ? [
                  points[0] as Point,
                  ...draggedCorners(tool.points, tool.index, tool.vertical, tool.now),
                  points[points.length - 1] as Point,
                ]
              : points;
            const hidden = tool.kind === "wire" && tool.replacing === id;
            return hidden ? null : (
              <Wire
                key={id}
                id={id}
                points={shown}
                selected={selection.has(id)}
                kind={port?.domain ?? port?.kind ?? "real"}
                count={sources.get(`${w.from.part}.${w.from.port}`)?.[0] === id ? (port?.elements?.length ?? 0) : 0}
                label={`${port?.domain ? "Connection between" : "Wire from"} ${diagram.parts[w.from.part]?.name} ${port?.domain ? "and" : "to"} ${diagram.parts[w.to.part]?.name}`}
              />
            );
          })}
          {[...sources].map(([key, ids]) =>
            ids.length < 2
              ? null
              : branchPoints(ids.map((i) => routes.get(i) ?? []).filter((r) => r.length > 1)).map((d) => (
                  <circle
                    key={`${key}${d.x},${d.y}`}
                    className={`junction ${portOf({ views }, (diagram.wires[ids[0] as string] as WireNode).from)?.domain ?? ""}`}
                    cx={d.x}
                    cy={d.y}
                    r="2.6"
                  />
                )),
          )}
          {draft && <path className="draft" d={pathData(draft)} markerEnd="url(#arrow-selected)" />}
        </svg>
        {Object.entries(diagram.parts).map(([id, node]) => {
          const v = views[id];
          const moved = shift?.ids.has(id) ? shift : null;
          return v ? (
            <PartPlate
              key={id}
              id={id}
              node={node}
              view={v}
              dx={moved && !moved.copy ? moved.dx : 0}
              dy={moved && !moved.copy ? moved.dy : 0}
              selected={selection.has(id)}
              flag={flags[id] ?? null}
              wiredPorts={wired[id] ?? ""}
            />
          ) : null;
        })}
        <svg className="wires" width="1" height="1">
          <SignalTags routes={routes} sources={sources} />
        </svg>
        {shift?.copy &&
          [...shift.ids].map((id) => {
            const n = diagram.parts[id];
            const v = views[id];
            return n && v ? (
              <div
                key={id}
                className="part plate phantom"
                style={{ left: n.x + shift.dx, top: n.y + shift.dy, width: Number(v.width), height: Number(v.height) }}
              />
            ) : null;
          })}
        {box && (
          <div
            className="box-select"
            style={{
              left: Math.min(box.start.x, box.now.x),
              top: Math.min(box.start.y, box.now.y),
              width: Math.abs(box.now.x - box.start.x),
              height: Math.abs(box.now.y - box.start.y),
            }}
          />
        )}
        {tool.kind === "wire" && tool.target && (
          <div className="target" style={{ left: place(tool.target).x, top: place(tool.target).y }} />
        )}
      </div>
      {Object.keys(diagram.parts).length === 0 && !placing && (
        <div className="empty-hint">
          Type the name of a part, such as <b>step</b> or <b>lag</b>, to place it here.
          <br />
          Drag from a port to wire parts; let go in the open to place the next one.
        </div>
      )}
      <DiagramToolbar
        onPlace={() => openPlacing("")}
        onDropPart={(type, e) => setPlacing({ at: at(e), screen: { x: 0, y: 0 }, text: type, from: null, now: true })}
        onFit={fit}
      />
      <div className="zoom mono">{Math.round(zoom * 100)} %</div>
      {placing && (
        <QuickPlace
          request={placing}
          onClose={() => {
            setPlacing(null);
            host.current?.focus({ preventScroll: true });
          }}
        />
      )}
    </div>
  );
}
