import type { Places } from "../canvas/tidy";
import { notify, notifyError, useBench } from "./bench";
import { edit, here } from "./model";
import type { Operation } from "./document";

/** Layouts of a level: made beside the page, looked at, then kept as one edit or left. */

/** Lays out the selected parts, or all of the level where fewer than two are selected. */
export async function tidyLevel(): Promise<void> {
  const { diagram, view, selection, level, id } = useBench.getState();
  const chosen = [...selection].filter((i) => i in diagram.parts);
  const ids = new Set(chosen.length > 1 ? chosen : Object.keys(diagram.parts));
  if (ids.size < 2) return notify("There is nothing to tidy: place some parts first.");
  try {
    const { tidy } = await import("../canvas/tidyWorker");
    const tidied = await tidy(diagram, view.parts, ids);
    const now = useBench.getState();
    // Somebody may have gone on meanwhile.
    if (now.id === id && now.level === level && now.diagram === diagram) useBench.setState({ tidied, notice: null });
  } catch (e) {
    notifyError(`The level could not be laid out: ${(e as Error).message}`);
  }
}

export const leaveTidied = () => useBench.setState({ tidied: null });

/** Keeps the layout that is looked at. */
export function keepTidied(): void {
  const { tidied, diagram } = useBench.getState();
  if (!tidied) return;
  useBench.setState({ tidied: null });
  edit("Tidy", operationsOf(tidied, diagram));
}

export function operationsOf(places: Places, diagram: ReturnType<typeof useBench.getState>["diagram"]): Operation[] {
  const operations: Operation[] = [];
  for (const [id, at] of Object.entries(places.parts)) {
    const p = diagram.parts[id];
    if (p && p.x !== at.x) operations.push({ op: "replace", path: here("parts", id, "x"), value: at.x });
    if (p && p.y !== at.y) operations.push({ op: "replace", path: here("parts", id, "y"), value: at.y });
  }
  for (const [id, at] of Object.entries(places.areas))
    if (diagram.areas[id]) operations.push({ op: "add", path: here("areas", id), value: { ...diagram.areas[id], ...at } });
  for (const [id, w] of Object.entries(diagram.wires))
    if (w.bends.length > 0 && (w.from.part in places.parts || w.to.part in places.parts))
      operations.push({ op: "replace", path: here("wires", id, "bends"), value: [] });
  return operations;
}

/** Draws wires as their names at both ends, or as lines again. */
export function drawByName(wires: readonly string[], byName: boolean): void {
  const { diagram } = useBench.getState();
  edit(
    byName ? "Draw by name" : "Draw as a line",
    wires.flatMap((id): Operation[] => {
      const w = diagram.wires[id];
      if (!w || !!w.byName === byName) return [];
      return [byName ? { op: "add", path: here("wires", id, "byName"), value: true } : { op: "remove", path: here("wires", id, "byName") }];
    }),
  );
}
