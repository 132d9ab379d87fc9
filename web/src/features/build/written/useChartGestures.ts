import { useRef, type RefObject } from "react";
import {
  drag,
  press,
  pressToPan,
  release,
  stateAt,
  type Intent,
  type Pointer,
  type Step,
  type Tool,
  type Under,
} from "../../../canvas/chart/tools";
import { select, useBench } from "../../../state/bench";
import { addTransition, moveStates, setTransition } from "../../../state/charts";
import type { Chart, Point } from "../../../state/document";
import { edit, here } from "../../../state/model";
import type { ViewportControl } from "../../../canvas/useViewport";

/** Hands the pointer to the tools of the chart, and makes what they ask for into edits. */
export function useChartGestures(
  tool: Tool,
  setTool: (tool: Tool) => void,
  {
    host,
    view,
    chart,
    selection,
    onBegin,
  }: {
    host: RefObject<HTMLDivElement | null>;
    view: ViewportControl;
    chart: Chart;
    selection: ReadonlySet<string>;
    onBegin: () => void;
  },
) {
  const pointerAt = useRef<Point>({ x: 160, y: 160 });
  const situation = () => ({ chart, selection, viewport: view.viewport.current });
  const pointerOf = (e: React.PointerEvent): Pointer => ({
    at: view.toDiagram(e),
    screen: { x: e.clientX, y: e.clientY },
    shift: e.shiftKey,
  });

  const carryOut = (intent: Intent) => {
    switch (intent.kind) {
      case "select":
        return select(intent.ids);
      case "show":
        return view.show(intent.viewport);
      case "move":
        return moveStates(intent.ids, intent.dx, intent.dy, intent.parent);
      case "size":
        return edit("Size a state", [
          { op: "replace", path: here("states", intent.id, "width"), value: intent.width },
          { op: "replace", path: here("states", intent.id, "height"), value: intent.height },
        ]);
      case "connect":
        return void addTransition(intent.from, intent.to, intent.at, stateAt(useBench.getState().chart as Chart, intent.at));
      case "retarget":
        return setTransition(intent.transition, "Lead it elsewhere", { to: intent.to });
      case "bend":
        return setTransition(intent.transition, "Bend", { bends: [intent.at] });
    }
  };

  const follow = (step: Step) => {
    if (step.tool !== tool) setTool(step.tool);
    step.intents.forEach(carryOut);
  };

  const under = (e: React.MouseEvent): Under => {
    const { state, transition, handle } = (e.target as HTMLElement).closest<HTMLElement>("[data-state], [data-transition]")?.dataset ?? {};
    return { state, transition, handle: handle as Under["handle"] };
  };

  return {
    pointerAt,
    down: (e: React.PointerEvent) => {
      if (!host.current?.contains(e.target as Node)) return;
      onBegin();
      host.current.focus({ preventScroll: true });
      if ((e.target as HTMLElement).closest("[data-ui]")) return;
      host.current.setPointerCapture(e.pointerId);
      follow(e.button === 0 ? press(pointerOf(e), under(e), situation()) : pressToPan(pointerOf(e), situation()));
    },
    move: (e: React.PointerEvent) => {
      const pointer = pointerOf(e);
      pointerAt.current = pointer.at;
      follow(drag(tool, pointer, situation()));
    },
    up: (e: React.PointerEvent) => follow(release(tool, pointerOf(e), situation())),
  };
}
