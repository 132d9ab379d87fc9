import { pointer, type Operation } from "./document";
import { edit, useBench } from "./store";

/** Parts that the model brings along: edits of their texts. */

const present = () => useBench.getState();

function freeClassName(wanted: string): string {
  const { document, catalog } = present();
  const taken = (name: string) => catalog.has(name) || name in (document.classes ?? {});
  if (!taken(wanted)) return wanted;
  for (let n = 2; ; n++) if (!taken(`${wanted}${n}`)) return `${wanted}${n}`;
}

/** The text of a class under another name. */
export const renamedText = (text: string, from: string, to: string) =>
  text
    .replace(new RegExp(`\\b(block|model|class)(\\s+)${from}\\b`), `$1$2${to}`)
    .replace(new RegExp(`\\bend(\\s+)${from}\\s*;(?![\\s\\S]*\\bend\\s+${from}\\s*;)`), `end$1${to};`);

/** Copies a part into the model; a placed part that it was opened from becomes one of the copies. */
export function duplicatePart(name: string, text: string, placed: string | null): string {
  const own = freeClassName(`Own${name}`);
  const operations: Operation[] = [{ op: "add", path: pointer("classes", own), value: { text: renamedText(text, name, own) } }];
  if (placed && present().document.parts[placed]) operations.push({ op: "replace", path: pointer("parts", placed, "type"), value: own });
  edit(`Duplicate ${name}`, operations);
  return own;
}

const template = (name: string) => `block ${name} "What it does, in one line"
  input Real u "Input";
  output Real y "Output";
  parameter Real k = 1 "Gain";
equation
  y = k * u;
  annotation(__AnchorBend(face = "<<k>>"));
end ${name};`;

/** Whether a part still is as it was made, so that closing it means it was not wanted. */
export const isUntouched = (name: string, text: string) => text === template(name);

/** A new part of the model to begin with. */
export function newOwnPart(): string {
  const name = freeClassName("OwnPart");
  edit(`New part ${name}`, [{ op: "add", path: pointer("classes", name), value: { text: template(name) } }]);
  return name;
}

/** Gives a part of the model a new text, and where that has another name, the name too. */
export function changeOwnPart(name: string, newName: string, text: string): string {
  const { document, catalog } = present();
  // A part of the catalog or another of the model must not be hidden by a new name; the finding then says which name is wanted.
  const free = !catalog.has(newName) && !(newName in document.classes);
  if (newName === name || !free) {
    edit(`Change part ${name}`, [{ op: "replace", path: pointer("classes", name, "text"), value: text }]);
    return name;
  }
  const operations: Operation[] = [
    { op: "remove", path: pointer("classes", name) },
    { op: "add", path: pointer("classes", newName), value: { text } },
  ];
  for (const [id, part] of Object.entries(document.parts))
    if (part.type === name) operations.push({ op: "replace", path: pointer("parts", id, "type"), value: newName });
  edit(`Change part ${name}`, operations);
  return newName;
}

/** Takes a part's text out of the model. */
export function removeOwnPart(name: string, label: string): void {
  if (name in present().document.classes) edit(label, [{ op: "remove", path: pointer("classes", name) }]);
}
