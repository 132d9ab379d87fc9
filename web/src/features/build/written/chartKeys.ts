import { createKeybindingsHandler } from "tinykeys";
import { GRID } from "../../../canvas/geometry";
import { boxOf, middle } from "../../../canvas/chart/geometry";
import { zoomAt } from "../../../canvas/viewport";
import { select, useBench } from "../../../state/bench";
import { group, moveStates, removeChosen } from "../../../state/charts";
import type { Chart, ChartState } from "../../../state/document";
import { leaveLevel } from "../../../state/model";
import { keys } from "../../../ui/keys";
import type { ViewportControl } from "../../../canvas/useViewport";

export interface ChartKeyActions {
  view: ViewportControl;
  cancel: () => boolean;
  /** Places a state where the pointer was. */
  place: () => void;
  /** Offers the states that a transition could lead to. */
  connect: () => void;
}

const chart = () => useBench.getState().chart as Chart;
const chosen = () => [...useBench.getState().selection].filter((id) => id in chart().states);

/** The chart's keyboard: every gesture of the pointer has its way here. */
export function chartKeys(actions: () => ChartKeyActions): (e: KeyboardEvent) => void {
  const step = (dx: number, dy: number) => (e: KeyboardEvent) => {
    const far = e.shiftKey ? 8 * GRID : GRID;
    const ids = chosen();
    const [first] = ids;
    if (first) return moveStates(ids, dx * far, dy * far, chart().states[first]?.parent ?? null);
    const { show, viewport } = actions().view;
    const v = viewport.current;
    show({ ...v, x: v.x - 4 * dx * far, y: v.y - 4 * dy * far });
  };
  const zoom = (factor: number) => () => {
    const { show, viewport, size } = actions().view;
    const box = size();
    show(zoomAt(viewport.current, { x: box.width / 2, y: box.height / 2 }, factor));
  };
  const next = (by: number) => () => {
    const at = ([, s]: [string, ChartState]) => middle(boxOf(s));
    const ids = Object.entries(chart().states)
      .sort((a, b) => at(a).y - at(b).y || at(a).x - at(b).x)
      .map(([id]) => id);
    const place = ids.indexOf(chosen()[0] ?? "");
    const id = ids[(place + by + ids.length) % ids.length];
    if (id) {
      select([id]);
      actions().view.reveal(id);
    }
  };
  /** The next transition of what is selected. */
  const nextTransition = (by: number) => () => {
    const [only] = useBench.getState().selection;
    const all = Object.entries(chart().transitions);
    const own = only && only in chart().states ? all.filter(([, t]) => t.from === only || t.to === only) : all;
    const ids = own.map(([id]) => id);
    const id = ids[(ids.indexOf(only ?? "") + by + ids.length) % ids.length];
    if (id) select([id]);
  };
  const bindings: Record<string, (e: KeyboardEvent) => void> = {
    [keys.remove]: removeChosen,
    [keys.removeAlso]: removeChosen,
    [keys.all]: () => select(Object.keys(chart().states)),
    [keys.enclose]: () => void group(),
    [keys.place]: () => actions().place(),
    [keys.wire]: () => actions().connect(),
    [keys.fit]: () => actions().view.fit(),
    [keys.nextWire]: nextTransition(1),
    [keys.lastWire]: nextTransition(-1),
    [keys.rename]: toField,
    [keys.open]: toField,
    [keys.leave]: () => {
      const busy = actions().cancel();
      if (useBench.getState().selection.size > 0) select([]);
      else if (!busy) leaveLevel();
    },
    "[Shift]+ArrowLeft": step(-1, 0),
    "[Shift]+ArrowRight": step(1, 0),
    "[Shift]+ArrowUp": step(0, -1),
    "[Shift]+ArrowDown": step(0, 1),
    PageDown: next(1),
    PageUp: next(-1),
    "[Shift]+([+=])": zoom(1.25),
    "-": zoom(0.8),
  };
  const handle = createKeybindingsHandler(
    Object.fromEntries(Object.entries(bindings).map(([key, run]) => [key, (e: KeyboardEvent) => (e.preventDefault(), run(e))])),
    { ignore: (e) => e.isComposing },
  );
  return (e) => {
    if (!(e.target as HTMLElement).closest("[data-ui]")) handle(e);
  };
}

/** What is selected is written in the inspector. */
const toField = () => window.document.querySelector<HTMLElement>("[aria-label=Inspector] input")?.focus();
