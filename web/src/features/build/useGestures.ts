import { useRef, type RefObject } from "react";
import { nearestSegment } from "../../canvas/geometry";
import type { HitIndex } from "../../canvas/hitIndex";
import { draggedCorners, type Tool } from "../../canvas/tools";
import { select } from "../../state/bench";
import type { Point, PortReference } from "../../state/document";
import { act, copySelected, moveParts, paste, snap } from "../../state/edits";
import { edit, here } from "../../state/model";
import { dropOnWire, finishWire, partsInBox, placeOf, portOf, targetAt, type Scene } from "./gestures";
import type { PlaceRequest } from "./QuickPlace";
import type { ViewportControl } from "./useViewport";

export const idle: Tool = { kind: "idle" };

/** How near a wire must be to be meant, in pixels of the screen. */
const REACH = 6;

interface Surroundings {
  host: RefObject<HTMLDivElement | null>;
  view: ViewportControl;
  scene: Scene;
  index: HitIndex;
  /** Whether parts are painted, so that what is under the pointer has to be looked up. */
  isFar: boolean;
  selection: ReadonlySet<string>;
  onBegin: () => void;
  onPlace: (request: PlaceRequest) => void;
}

/** The gestures of the pointer on the diagram: each begins, goes on and ends here, and makes its edit when it ends. */
export function useGestures(tool: Tool, setTool: (tool: Tool) => void, around: Surroundings) {
  const { host, view, scene, index, isFar, selection, onBegin, onPlace } = around;
  const { diagram, views, routes } = scene;
  const pointerAt = useRef<Point>({ x: 200, y: 160 });
  const place = (ref: PortReference) => placeOf(scene, ref);

  const down = (e: React.PointerEvent) => {
    onBegin();
    host.current?.focus({ preventScroll: true });
    const p = view.toDiagram(e);
    const element = e.target as HTMLElement;
    if (element.closest("[data-ui]")) return;
    const under = isFar ? index.at(p, REACH / view.viewport.current.zoom) : {};
    host.current?.setPointerCapture(e.pointerId);
    if (e.button === 1 || e.button === 2) {
      setTool({ kind: "pan", start: { x: e.clientX, y: e.clientY }, offset: { x: view.viewport.current.x, y: view.viewport.current.y } });
      return;
    }
    const part = element.closest<HTMLElement>("[data-part]")?.dataset.part ?? under.part;
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
    const wire = element.dataset.wire ?? under.wire;
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
    const p = view.toDiagram(e);
    pointerAt.current = p;
    switch (tool.kind) {
      case "pan":
        view.show({ ...view.viewport.current, x: tool.offset.x + e.clientX - tool.start.x, y: tool.offset.y + e.clientY - tool.start.y });
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
    const p = view.toDiagram(e);
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
          onPlace({
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

  return { down, move: moveTo, up, pointerAt };
}
