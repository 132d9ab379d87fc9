import { useBench } from "./bench";
import { makeSlot, stepAlternatives } from "./alternatives";
import { canJoin, joinSelected } from "./bundles";
import { drawByName } from "./tidying";
import { copy, cut, duplicate, canPaste, pasteCopied } from "./clipboard";
import { definitionOf, referenceOf } from "./document";
import { addArea, arrange, flipSelected, removeSelected, turnSelected } from "./edits";
import { moveToLevel } from "./levels";
import { moveToSheet } from "./sheets";
import { leaveLevel, openLevel, restructure } from "./model";

/** Something that can be done, with the name of its keys where it has some. */
export interface Action {
  label: string;
  keys?: "copy" | "cut" | "paste" | "duplicate" | "flip" | "rotate" | "remove" | "open" | "enclose" | "dissolve" | "leave" | "alternative";
  /** Does it; what comes of it may be a part that wants a name. */
  run: () => void | Promise<string | null>;
}

const chosenParts = () => {
  const { selection, diagram } = useBench.getState();
  return [...selection].filter((i) => i in diagram.parts);
};

/** Makes a subsystem of the selected parts. */
export async function enclose(): Promise<string | null> {
  const parts = chosenParts();
  const made = parts.length > 0 ? await restructure({ kind: "makeSubsystem", parts, name: null }) : null;
  return made?.[0] ?? null;
}

/** The selected part, where it is one and has a level of its own. */
function subsystem(): string | null {
  const [part, ...more] = chosenParts();
  const { diagram, model } = useBench.getState();
  const inner = part === undefined || more.length > 0 ? null : definitionOf(diagram.parts[part]?.type ?? "");
  return inner !== null && model.definitions[inner]?.kind === "diagram" ? (part as string) : null;
}

export function dissolve(): void {
  const part = subsystem();
  if (part) void restructure({ kind: "dissolve", part });
}

/** How often a definition is used in the model. */
export const usesOf = (type: string): number =>
  Object.values(useBench.getState().model.definitions).reduce(
    (n, d) => n + (d.kind === "diagram" ? Object.values(d.parts).filter((p) => p.type === type).length : 0),
    0,
  );

/** Subsystems that a menu offers to move a part into. */
const MOST_TARGETS = 5;

const isLevel = (type: string): boolean => {
  const id = definitionOf(type);
  return id !== null && useBench.getState().model.definitions[id]?.kind === "diagram";
};

/** What can be done with what is selected, in the order of menus. */
export function selectionActions(): Action[] {
  const { selection, diagram, level, view } = useBench.getState();
  const parts = chosenParts();
  const part = subsystem();
  const result: Action[] = [];
  if (part) {
    result.push({ label: "Open the subsystem", keys: "open", run: () => void openLevel(part) });
    if (usesOf(diagram.parts[part]?.type ?? "") > 1)
      result.push({ label: "Make independent of other uses", run: () => void restructure({ kind: "makeIndependent", part }) });
    result.push({ label: "Dissolve the subsystem", keys: "dissolve", run: dissolve });
  }
  if (parts.length > 0)
    result.push(
      { label: "Make a subsystem of the selection", keys: "enclose", run: enclose },
      { label: "Copy", keys: "copy", run: copy },
      { label: "Cut", keys: "cut", run: cut },
      { label: "Duplicate", keys: "duplicate", run: () => void duplicate() },
      { label: "Mirror the selection", keys: "flip", run: flipSelected },
      { label: "Turn the selection a quarter", keys: "rotate", run: turnSelected },
      { label: "Draw an area around the selection", run: () => void addArea() },
    );
  if (canJoin()) result.push({ label: "Join the signals to a bundle", run: joinSelected });
  const wires = [...selection].filter((i) => i in diagram.wires);
  const source = diagram.parts[parts[0] ?? diagram.wires[wires[0] ?? ""]?.from.part ?? ""];
  if (source)
    result.push({ label: "Find its quantities in Observe", run: () => useBench.setState({ stage: "observe", search: source.name }) });
  if (wires.length > 0)
    result.push(
      { label: "Draw by name", run: () => drawByName(wires, true) },
      { label: "Draw as lines", run: () => drawByName(wires, false) },
    );
  if (parts.length > 0) result.push({ label: "Move the plain values to a sheet", run: () => void moveToSheet({ parts }) });
  const [only] = parts;
  if (only !== undefined && parts.length === 1) {
    const shown = view.parts[only];
    if (shown?.slot && shown.slot.names.length > 1)
      result.unshift({ label: "Put the next realisation in", keys: "alternative", run: () => void stepAlternatives(1) });
    else if (shown && !shown.slot && shown.shape !== "bar")
      result.push({ label: "Make it a slot for alternatives", run: () => void makeSlot(only) });
    const path = referenceOf(level, only);
    const others = Object.entries(diagram.parts).filter(([id, p]) => id !== only && isLevel(p.type));
    for (const [id, p] of others.slice(0, MOST_TARGETS))
      result.push({ label: `Move into ${p.name}`, run: () => moveToLevel(path, referenceOf(level, id)).then(() => null) });
    if (level !== "")
      result.push({
        label: "Move to the level above",
        run: () => moveToLevel(path, level.slice(0, Math.max(0, level.lastIndexOf("/")))).then(() => null),
      });
  }
  if (parts.length > 1)
    result.push(
      { label: "Align left edges", run: () => arrange("left") },
      { label: "Align middles on a vertical", run: () => arrange("column") },
      { label: "Align top edges", run: () => arrange("top") },
      { label: "Align middles on a horizontal", run: () => arrange("row") },
    );
  if (parts.length > 2)
    result.push({ label: "Space evenly across", run: () => arrange("across") }, { label: "Space evenly down", run: () => arrange("down") });
  if (selection.size > 0) result.push({ label: "Delete the selection", keys: "remove", run: removeSelected });
  else if (canPaste()) result.push({ label: "Paste", keys: "paste", run: pasteCopied });
  if (selection.size === 0 && level !== "") result.push({ label: "Leave this level", keys: "leave", run: () => void leaveLevel() });
  return result;
}
