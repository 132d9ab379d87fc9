import { useRef, type RefObject } from "react";
import type { HitIndex } from "../../canvas/hitIndex";
import { portOf, type Scene } from "../../canvas/scene";
import { drag, press, pressToPan, release, type Intent, type Pointer, type Step, type Tool, type Under } from "../../canvas/tools";
import { notify, select } from "../../state/bench";
import type { Point, PortReference } from "../../state/document";
import { act, connect, copySelected, insertOnWire, moveParts, paste } from "../../state/edits";
import { edit, here } from "../../state/model";
import { movePort } from "../../state/levels";
import type { MenuRequest } from "./ContextMenu";
import type { PlaceRequest } from "./QuickPlace";
import type { ViewportControl } from "../../canvas/useViewport";

/** How near a wire must be to be meant, in pixels of the screen. */
const REACH = 6;

/** How far the pointer may move in a press that is none of a drag, in pixels of the screen. */
const SLACK = 4;

/** The part, note or area that an element belongs to. */
function thing(element: HTMLElement | null): string | undefined {
  const found = element?.closest<HTMLElement>("[data-part], [data-caption]");
  return found?.dataset.part ?? found?.dataset.caption;
}

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
  onMenu: (request: MenuRequest) => void;
}

/** Hands the pointer to the tools of the canvas, and makes what they ask for into edits. */
export function useGestures(tool: Tool, setTool: (tool: Tool) => void, around: Surroundings) {
  const { host, view, scene, index, isFar, selection, onBegin, onPlace, onMenu } = around;
  const pointerAt = useRef<Point>({ x: 200, y: 160 });
  const situation = () => ({ scene, selection, viewport: view.viewport.current });

  const pointerOf = (e: React.PointerEvent): Pointer => ({
    at: view.toDiagram(e),
    screen: { x: e.clientX, y: e.clientY },
    shift: e.shiftKey,
    copy: e.altKey || e.ctrlKey || e.metaKey,
  });

  const under = (e: React.MouseEvent, at: Point): Under => {
    const element = e.target as HTMLElement;
    const { sign, port, input, wire, corner } = element.dataset;
    const found = isFar ? index.at(at, REACH / view.viewport.current.zoom) : {};
    return {
      part: thing(element) ?? found.part,
      port: port ? { name: port, isInput: input === "true" } : undefined,
      sign,
      wire: wire ?? found.wire,
      corner,
    };
  };

  const carryOut = (intent: Intent) => {
    switch (intent.kind) {
      case "select":
        return select(intent.ids);
      case "show":
        return view.show(intent.viewport);
      case "act":
        return act(intent.action);
      case "move":
        return moveParts(intent.ids, intent.dx, intent.dy);
      case "copy":
        select(intent.ids);
        return paste(copySelected(), intent.dx, intent.dy, "Copy");
      case "insert":
        return insertOnWire(intent.wire, intent.part, intent.input, intent.output);
      case "connect":
        return connect(intent.from, intent.to, intent.bends, intent.replacing);
      case "refuse": {
        const told = (ref: PortReference) =>
          `${ref.port} of ${scene.diagram.parts[ref.part]?.name} is ${portOf(scene, ref)?.what ?? "another kind of port"}`;
        return notify(`These cannot be joined: ${told(intent.from)}, ${told(intent.to)}.`);
      }
      case "disconnect":
        return edit("Disconnect", [{ op: "remove", path: here("wires", intent.wire) }]);
      case "size":
        return edit("Size the area", [
          { op: "replace", path: here("areas", intent.id, "width"), value: intent.width },
          { op: "replace", path: here("areas", intent.id, "height"), value: intent.height },
        ]);
      case "movePort":
        return void movePort(intent.part, intent.port, intent.side, intent.index);
      case "bend":
        return edit("Bend", [{ op: "replace", path: here("wires", intent.wire, "bends"), value: intent.bends }]);
      case "place": {
        const box = host.current?.getBoundingClientRect();
        const port = portOf(scene, intent.from);
        const screen = { x: intent.screen.x - (box?.left ?? 0), y: intent.screen.y - (box?.top ?? 0) };
        return onPlace({ at: intent.at, screen, text: "", from: port ? { port: intent.from, view: port } : null });
      }
    }
  };

  const follow = (step: Step) => {
    if (step.tool !== tool) setTool(step.tool);
    step.intents.forEach(carryOut);
  };

  const down = (e: React.PointerEvent) => {
    // A menu over the diagram is not in it.
    if (!host.current?.contains(e.target as Node)) return;
    onBegin();
    host.current?.focus({ preventScroll: true });
    if ((e.target as HTMLElement).closest("[data-ui]")) return;
    host.current.setPointerCapture(e.pointerId);
    const pointer = pointerOf(e);
    follow(e.button === 0 ? press(pointer, under(e, pointer.at), situation()) : pressToPan(pointer, situation()));
  };

  const move = (e: React.PointerEvent) => {
    const pointer = pointerOf(e);
    pointerAt.current = pointer.at;
    follow(drag(tool, pointer, situation()));
  };

  const up = (e: React.PointerEvent) => {
    // The second button moves the view, and asks what can be done where it did not.
    if (e.button === 2 && tool.kind === "pan" && Math.hypot(e.clientX - tool.start.x, e.clientY - tool.start.y) < SLACK) onMenu(choose(e));
    follow(release(tool, pointerOf(e), situation()));
  };

  /** What lies at a place of the screen; a captured pointer tells nothing of it. */
  const seen = (e: React.MouseEvent): { part?: string; wire?: string; isName: boolean } => {
    const element = window.document.elementFromPoint(e.clientX, e.clientY) as HTMLElement | null;
    const found = isFar ? index.at(view.toDiagram(e), REACH / view.viewport.current.zoom) : {};
    return {
      part: thing(element) ?? found.part,
      wire: element?.dataset.wire ?? found.wire,
      isName: element?.dataset.name !== undefined,
    };
  };

  /** What a menu is asked for at: it is selected, unless it is already. */
  const choose = (e: React.MouseEvent) => {
    const { part, wire } = seen(e);
    const chosen = part ?? wire;
    if (chosen === undefined) select([]);
    else if (!selection.has(chosen)) select([chosen]);
    const box = host.current?.getBoundingClientRect();
    pointerAt.current = view.toDiagram(e);
    return { x: e.clientX - (box?.left ?? 0), y: e.clientY - (box?.top ?? 0), at: view.toDiagram(e) };
  };

  return { down, move, up, pointerAt, under: seen, choose };
}
