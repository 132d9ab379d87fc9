import { createKeybindingsHandler } from "tinykeys";
import { GRID } from "../../canvas/geometry";
import { zoomAt, type Viewport } from "../../canvas/viewport";
import { select, useBench } from "../../state/bench";
import { stepAlternatives } from "../../state/alternatives";
import { copy, cut, duplicate, pasteCopied } from "../../state/clipboard";
import { flipSelected, moveParts, removeSelected, turnSelected } from "../../state/edits";
import { leaveLevel, openLevel } from "../../state/model";
import { dissolve, enclose } from "../../state/selection";
import { keys } from "../../ui/keys";

/** What keys can do to the diagram besides editing. */
export interface KeyActions {
  viewport: Viewport;
  show: (v: Viewport) => void;
  fit: () => void;
  /** Brings a part into view. */
  reveal: (id: string) => void;
  openPlacing: (text: string) => void;
  /** Offers wires at the part selected first, to the others that are selected or to all. */
  openWiring: () => void;
  /** Gives up what is under way; whether anything was. */
  cancel: () => boolean;
  /** Begins to rename a part in its place. */
  rename: (id: string) => void;
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
  const bindings: Record<string, (e: KeyboardEvent) => void> = {
    [keys.copy]: copy,
    [keys.cut]: cut,
    [keys.paste]: pasteCopied,
    [keys.duplicate]: () => void duplicate(),
    [keys.enclose]: () => void enclose().then((part) => part && actions().rename(part)),
    [keys.dissolve]: dissolve,
    [keys.rename]: () => {
      const [part] = useBench.getState().selection;
      if (part !== undefined && part in useBench.getState().diagram.parts) actions().rename(part);
    },
    [keys.all]: () => select(Object.keys(useBench.getState().diagram.parts)),
    [keys.flip]: flipSelected,
    [keys.rotate]: turnSelected,
    [keys.remove]: removeSelected,
    [keys.removeAlso]: removeSelected,
    [keys.leave]: () => {
      const busy = actions().cancel();
      if (useBench.getState().selection.size > 0) select([]);
      else if (!busy) leaveLevel();
    },
    "[Shift]+ArrowLeft": step(-1, 0),
    "[Shift]+ArrowRight": step(1, 0),
    "[Shift]+ArrowUp": step(0, -1),
    "[Shift]+ArrowDown": step(0, 1),
    "[Shift]+PageDown": (e) => nextPart(1, e.shiftKey, actions()),
    "[Shift]+PageUp": (e) => nextPart(-1, e.shiftKey, actions()),
    "$mod+[Shift]+ArrowLeft": (e) => partTowards(-1, 0, e.shiftKey, actions()),
    "$mod+[Shift]+ArrowRight": (e) => partTowards(1, 0, e.shiftKey, actions()),
    "$mod+[Shift]+ArrowUp": (e) => partTowards(0, -1, e.shiftKey, actions()),
    "$mod+[Shift]+ArrowDown": (e) => partTowards(0, 1, e.shiftKey, actions()),
    [keys.nextWire]: () => nextWire(1),
    [keys.lastWire]: () => nextWire(-1),
    "[Shift]+([+=])": zoom(1.25),
    "-": zoom(0.8),
    [keys.fit]: () => actions().fit(),
    [keys.wire]: () => actions().openWiring(),
    [keys.place]: () => actions().openPlacing(""),
    "[Shift]+([a-z])": (e) => actions().openPlacing(e.key),
  };
  // These leave the key to the browser where they have nothing to do.
  const yielding: Record<string, (e: KeyboardEvent) => boolean> = {
    [keys.open]: openSelected,
    [keys.alternative]: () => stepAlternatives(1),
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

/** The part that was selected last: others are looked for from there. */
const lastPart = () => [...useBench.getState().selection].filter((i) => i in useBench.getState().diagram.parts).pop();

/** Selects a part, beside those selected before where asked. */
function reach(id: string | undefined, also: boolean, { reveal }: KeyActions): void {
  if (id === undefined) return;
  const { selection } = useBench.getState();
  // What is reached stands last, so that the next is looked for from it.
  select(also ? [...[...selection].filter((i) => i !== id), id] : [id]);
  reveal(id);
}

/** Goes to the next part in reading order. */
function nextPart(by: number, also: boolean, actions: KeyActions): void {
  const { diagram } = useBench.getState();
  const ids = Object.entries(diagram.parts).sort((a, b) => (a[1].y ?? 0) - (b[1].y ?? 0) || (a[1].x ?? 0) - (b[1].x ?? 0));
  const at = ids.findIndex(([id]) => id === lastPart());
  reach(ids[at < 0 ? (by > 0 ? 0 : ids.length - 1) : at + by]?.[0], also, actions);
}

/** Goes to the nearest part in a direction. */
function partTowards(dx: number, dy: number, also: boolean, actions: KeyActions): void {
  const { diagram, view } = useBench.getState();
  const middle = (id: string) => ({
    x: (diagram.parts[id]?.x ?? 0) + (view.parts[id]?.width ?? 0) / 2,
    y: (diagram.parts[id]?.y ?? 0) + (view.parts[id]?.height ?? 0) / 2,
  });
  const from = lastPart();
  if (from === undefined) return nextPart(1, also, actions);
  const here = middle(from);
  let [best, least] = [undefined as string | undefined, Infinity];
  for (const id of Object.keys(diagram.parts)) {
    const there = middle(id);
    const along = (there.x - here.x) * dx + (there.y - here.y) * dy;
    const across = Math.abs((there.x - here.x) * dy) + Math.abs((there.y - here.y) * dx);
    // What lies more aside than ahead is another direction's.
    if (id === from || along <= 0 || across > 2 * along) continue;
    const distance = along + 2 * across;
    if (distance < least) [best, least] = [id, distance];
  }
  reach(best, also, actions);
}

/** Selects the next wire: of those at the selected part first, then of all. */
function nextWire(by: number): void {
  const { diagram, selection } = useBench.getState();
  const [only] = selection;
  const wires = Object.keys(diagram.wires);
  const atPart = wires.filter((w) => diagram.wires[w]?.from.part === only || diagram.wires[w]?.to.part === only);
  const among = atPart.length > 0 ? atPart : wires;
  const next = among[(among.indexOf(only ?? "") + by + among.length) % among.length];
  if (next !== undefined) select([next]);
}

/** Opens the level of what is selected, else goes to its first field; false where that is not one thing. */
function openSelected(): boolean {
  const [only, ...more] = useBench.getState().selection;
  if (only === undefined || more.length > 0) return false;
  if (openLevel(only)) return true;
  window.document.querySelector<HTMLElement>("[aria-label=Inspector] input")?.focus();
  return true;
}
