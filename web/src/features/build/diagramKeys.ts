import { createKeybindingsHandler } from "tinykeys";
import { GRID } from "../../canvas/geometry";
import { zoomAt, type Viewport } from "../../canvas/viewport";
import { select, useBench } from "../../state/bench";
import { copySelected, flipSelected, moveParts, paste, removeSelected, type Clip } from "../../state/edits";
import { keys } from "../../ui/keys";

let clipboard: Clip | null = null;

/** What keys can do to the diagram besides editing. */
export interface KeyActions {
  viewport: Viewport;
  show: (v: Viewport) => void;
  fit: () => void;
  /** Brings a part into view. */
  reveal: (id: string) => void;
  openPlacing: (text: string) => void;
  cancel: () => void;
  size: () => { width: number; height: number };
}

/** The diagram's keyboard: every gesture of the pointer has its way here. */
export function diagramKeys(actions: () => KeyActions): (e: KeyboardEvent) => void {
  const step = (dx: number, dy: number) => (e: KeyboardEvent) => {
    const { diagram, selection } = useBench.getState();
    const far = e.shiftKey ? 8 * GRID : GRID;
    if ([...selection].some((i) => i in diagram.parts)) return moveParts(selection, dx * far, dy * far);
    const { show, viewport } = actions();
    show({ ...viewport, x: viewport.x - 4 * dx * far, y: viewport.y - 4 * dy * far });
  };
  const zoom = (factor: number) => () => {
    const { show, viewport, size } = actions();
    const box = size();
    show(zoomAt(viewport, { x: box.width / 2, y: box.height / 2 }, factor));
  };
  const copy = () => (clipboard = copySelected());
  const bindings: Record<string, (e: KeyboardEvent) => void> = {
    [keys.copy]: copy,
    [keys.cut]: () => {
      copy();
      removeSelected();
    },
    [keys.paste]: () => clipboard && paste(clipboard, 4 * GRID, 4 * GRID),
    [keys.duplicate]: () => paste(copySelected(), 4 * GRID, 4 * GRID, "Duplicate"),
    [keys.all]: () => select(Object.keys(useBench.getState().diagram.parts)),
    [keys.flip]: flipSelected,
    [keys.remove]: removeSelected,
    [keys.removeAlso]: removeSelected,
    Escape: () => {
      actions().cancel();
      select([]);
    },
    "[Shift]+ArrowLeft": step(-1, 0),
    "[Shift]+ArrowRight": step(1, 0),
    "[Shift]+ArrowUp": step(0, -1),
    "[Shift]+ArrowDown": step(0, 1),
    "[Shift]+([+=])": zoom(1.25),
    "-": zoom(0.8),
    [keys.fit]: () => actions().fit(),
    [keys.place]: () => actions().openPlacing(""),
    "[Shift]+([a-z])": (e) => actions().openPlacing(e.key),
  };
  // These leave the key to the browser where they have nothing to do.
  const yielding: Record<string, (e: KeyboardEvent) => boolean> = {
    "[Shift]+Tab": (e) => nextPart(e.shiftKey ? -1 : 1, actions()),
    Enter: openField,
  };
  const handle = createKeybindingsHandler(
    {
      ...Object.fromEntries(Object.entries(bindings).map(([key, run]) => [key, (e: KeyboardEvent) => (e.preventDefault(), run(e))])),
      ...Object.fromEntries(Object.entries(yielding).map(([key, run]) => [key, (e: KeyboardEvent) => run(e) && e.preventDefault()])),
    },
    { ignore: (e) => e.isComposing },
  );
  return (e) => {
    // Parts may hold the focus after a click; fields over the diagram keep their keys.
    if (!(e.target as HTMLElement).closest("[data-ui]")) handle(e);
  };
}

/** Selects the next part in reading order; false where there is none. */
function nextPart(by: number, { reveal }: KeyActions): boolean {
  const { diagram, selection } = useBench.getState();
  const ids = Object.entries(diagram.parts).sort((a, b) => a[1].y - b[1].y || a[1].x - b[1].x);
  const next = ids[ids.findIndex(([id]) => selection.has(id)) + by];
  if (!next) return false;
  select([next[0]]);
  reveal(next[0]);
  return true;
}

/** Goes to the first field of what is selected; false where that is not one thing. */
function openField(): boolean {
  if (useBench.getState().selection.size !== 1) return false;
  window.document.querySelector<HTMLElement>("[aria-label=Inspector] input")?.focus();
  return true;
}
