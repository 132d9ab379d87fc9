import type { ApiError } from "../api/client";
import { takeUnit } from "../api/units";
import { notify, notifyError, select, useBench } from "./bench";
import { newId, pointer, typeOf, type Operation } from "./document";
import { placeUnder } from "./edits";
import { edit, here } from "./model";
import { freeClassName, renamedText } from "./ownParts";

/** Exchange units of others as parts of the model. */

/** Takes in a unit from a file and puts a part of it under the others of this level. */
export async function importUnit(file: File): Promise<void> {
  try {
    const taken = await takeUnit(file);
    const { diagram } = useBench.getState();
    const { definition } = taken;
    const name = freeClassName(definition.name);
    const [id, part] = [newId("d"), newId("p")];
    const value = { kind: "text", ...definition, name, text: renamedText(definition.text, definition.name, name) };
    const operations: Operation[] = [
      { op: "add", path: pointer("definitions", id), value },
      { op: "add", path: here("parts", part), value: placeUnder(diagram, typeOf(id), taken.name) },
    ];
    edit(`Import ${taken.name}`, operations);
    select([part]);
    const notes = [
      `${taken.name} is in the model: FMI ${taken.version}, ${taken.inputs.length} in, ${taken.outputs.length} out.`,
      taken.left.length > 0 ? `Left out, as they are no single numbers: ${taken.left.slice(0, 5).join(", ")}.` : "",
      taken.hasWalls ? "" : "Its program runs with limits alone, without walls around it: install bubblewrap on this machine for those.",
    ];
    notify(notes.filter(Boolean).join(" "));
  } catch (e) {
    const { message, advice } = e as ApiError;
    notifyError([`${file.name} is not taken in.`, message, advice].filter(Boolean).join(" "));
  }
}
