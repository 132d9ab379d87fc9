import { copySelected, flipSelected, moveParts, paste, removeSelected, type Clip } from "../../state/edits";
import { select, useBench } from "../../state/bench";
import { zoomAt, type Viewport } from "../../canvas/viewport";

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
export function diagramKey(e: React.KeyboardEvent, act: KeyActions): void {
  const { diagram, selection } = useBench.getState();
  // Parts may hold the focus after a click; fields over the diagram keep their keys.
  if ((e.target as HTMLElement).closest("[data-ui]")) return;
  const command = e.ctrlKey || e.metaKey;
  const letter = e.key.toLowerCase();
  const handled = () => e.preventDefault();
  if (command && letter === "c") {
    clipboard = copySelected();
  } else if (command && letter === "x") {
    clipboard = copySelected();
    removeSelected();
  } else if (command && letter === "v" && clipboard) {
    handled();
    paste(clipboard, 32, 32);
  } else if (command && letter === "d") {
    handled();
    paste(copySelected(), 32, 32, "Duplicate");
  } else if (command && letter === "a") {
    handled();
    select(Object.keys(diagram.parts));
  } else if (command && letter === "m") {
    handled();
    flipSelected();
  } else if (command) return;
  else if (e.key === "Delete" || e.key === "Backspace") {
    handled();
    removeSelected();
  } else if (e.key === "Escape") {
    act.cancel();
    select([]);
  } else if (e.key.startsWith("Arrow")) {
    handled();
    const d = e.shiftKey ? 64 : 8;
    const by = { ArrowLeft: [-d, 0], ArrowRight: [d, 0], ArrowUp: [0, -d], ArrowDown: [0, d] }[e.key] as [number, number];
    if ([...selection].some((i) => i in diagram.parts)) moveParts(selection, by[0], by[1]);
    else act.show({ ...act.viewport, x: act.viewport.x - 4 * by[0], y: act.viewport.y - 4 * by[1] });
  } else if (e.key === "Tab") {
    const ids = Object.entries(diagram.parts).sort((a, b) => a[1].y - b[1].y || a[1].x - b[1].x);
    const now = ids.findIndex(([i]) => selection.has(i));
    const next = ids[now + (e.shiftKey ? -1 : 1)];
    if (next) {
      handled();
      select([next[0]]);
      act.reveal(next[0]);
    }
  } else if (e.key === "Enter" && selection.size === 1) {
    handled();
    window.document.querySelector<HTMLElement>("[aria-label=Inspector] input")?.focus();
  } else if (e.key === "+" || e.key === "=" || e.key === "-") {
    const box = act.size();
    act.show(zoomAt(act.viewport, { x: box.width / 2, y: box.height / 2 }, e.key === "-" ? 0.8 : 1.25));
  } else if (e.key === "0") act.fit();
  else if (e.key === "/" || (e.key.length === 1 && /[a-z]/i.test(e.key))) {
    handled();
    act.openPlacing(e.key === "/" ? "" : e.key);
  }
}
