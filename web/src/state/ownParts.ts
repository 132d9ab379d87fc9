import { api, ask, type ApiError } from "../api/client";
import { definitionOf, newId, pointer, typeOf, type Definition, type ModelDocument, type Operation } from "./document";
import { notify, notifyError, offer, useBench } from "./bench";
import { placedDefinitions } from "./edits";
import { edit, here, reloadModel } from "./model";

/** Texts that the model brings along as definitions: edits of them. */

const present = () => useBench.getState();

export function freeClassName(wanted: string): string {
  const { model, catalog } = present();
  const names = new Set(Object.values(model.definitions).map((d) => d.name));
  const taken = (name: string) => catalog.has(name) || names.has(name);
  if (!taken(wanted)) return wanted;
  for (let n = 2; ; n++) if (!taken(`${wanted}${n}`)) return `${wanted}${n}`;
}

/** The text of a class under another name. */
export const renamedText = (text: string, from: string, to: string) =>
  text
    .replace(new RegExp(`\\b(block|model|class)(\\s+)${from}\\b`), `$1$2${to}`)
    .replace(new RegExp(`\\bend(\\s+)${from}\\s*;(?![\\s\\S]*\\bend\\s+${from}\\s*;)`), `end$1${to};`);

/** Whether parts of a type stand anywhere in the model. */
export const isUsed = (model: ModelDocument, type: string) =>
  Object.values(model.definitions).some((d) => d.kind === "diagram" && Object.values(d.parts).some((p) => p.type === type));

/** Copies a part into the model; a placed part that it was opened from becomes one of the copies. Gives the copies' type. */
export function duplicatePart(name: string, text: string, placed: string | null): string {
  const own = freeClassName(`Own${name}`);
  const id = newId("d");
  const definition = { kind: "text", name: own, text: renamedText(text, name, own) };
  const operations: Operation[] = [{ op: "add", path: pointer("definitions", id), value: definition }];
  if (placed && present().diagram.parts[placed]) operations.push({ op: "replace", path: here("parts", placed, "type"), value: typeOf(id) });
  edit(`Duplicate ${name}`, operations);
  return typeOf(id);
}

const template = (name: string) => `block ${name} "What it does, in one line"
  input Real u "Input";
  output Real y "Output";
  parameter Real k = 1 "Gain";
equation
  y = k * u;
  annotation(__AnchorBend(face = "<<k>>"));
end ${name};`;

/** Keeps the definition of a subsystem in the user's package; what is there already is replaced where asked. Gives its name there. */
export async function keepInPackage(type: string, replaces: boolean): Promise<string | null> {
  const definition = definitionOf(type);
  if (definition === null) return null;
  const { id } = present();
  try {
    const body = { definition, name: null, replaces };
    const { name } = await ask(api.POST("/api/models/{id}/package", { params: { path: { id } }, body }));
    await reloadModel();
    notify(`${name} is in your package now: every model can place it.`);
    return name;
  } catch (e) {
    const failure = e as ApiError;
    if (!replaces && failure.advice?.includes("replace")) offer(failure.message, "Replace it", () => void keepInPackage(type, true));
    else notifyError(`${failure.message} ${failure.advice ?? ""}`);
    return null;
  }
}

/** Makes a part of the package a subsystem of this model, which can be opened and changed here. */
export async function takeIn(part: string): Promise<void> {
  const { diagram, model } = present();
  const node = diagram.parts[part];
  if (!node) return;
  try {
    const { root, definitions } = await ask(api.GET("/api/package/{name}/diagram", { params: { path: { name: node.type } } }));
    const { added, typeNow } = placedDefinitions({ definitions: definitions as Record<string, Definition> }, model);
    edit(`Take in ${node.name}`, [
      ...added.map(([id, value]) => ({ op: "add" as const, path: pointer("definitions", id), value })),
      { op: "replace", path: here("parts", part, "type"), value: typeNow(typeOf(root)) },
    ]);
  } catch (e) {
    notifyError((e as ApiError).message);
  }
}

/** Whether a part still is as it was made, so that closing it means it was not wanted. */
export const isUntouched = (name: string, text: string) => text === template(name);

/** A new part of the model to begin with; gives its type. */
export function newOwnPart(): string {
  const name = freeClassName("OwnPart");
  const id = newId("d");
  edit(`New part ${name}`, [{ op: "add", path: pointer("definitions", id), value: { kind: "text", name, text: template(name) } }]);
  return typeOf(id);
}

/** Gives a part of the model a new text, and where that has another name, the name too. */
export function changeOwnPart(type: string, name: string, newName: string, text: string): void {
  const { model, catalog } = present();
  const id = definitionOf(type);
  if (id === null || !(id in model.definitions)) return;
  const operations: Operation[] = [{ op: "replace", path: pointer("definitions", id, "text"), value: text }];
  // A part of the catalog or another of the model must not be hidden by a new name; the finding then says which name is wanted.
  const free = !catalog.has(newName) && Object.values(model.definitions).every((d) => d.name !== newName);
  if (newName !== name && free) operations.push({ op: "replace", path: pointer("definitions", id, "name"), value: newName });
  edit(`Change part ${name}`, operations);
}

/** Takes a part's text out of the model. Its parts become those of another type, where one is given. */
export function removeOwnPart(type: string, label: string, instead?: string): void {
  const { model } = present();
  const id = definitionOf(type);
  if (id === null || !(id in model.definitions)) return;
  const operations: Operation[] = [];
  if (instead !== undefined)
    for (const [definition, d] of Object.entries(model.definitions))
      for (const [part, node] of d.kind === "diagram" ? Object.entries(d.parts) : [])
        if (node.type === type)
          operations.push({ op: "replace", path: pointer("definitions", definition, "parts", part, "type"), value: instead });
  edit(label, [...operations, { op: "remove", path: pointer("definitions", id) }]);
}
