import type { Schemas } from "../api/client";
import { notify, runSettings, useBench } from "./bench";
import { newId, pointer, type Operation } from "./document";
import { edit } from "./model";
import { lookFrom, useTune } from "./tune";

/** Saved operating points as data: kept, renamed, taken away, and which one runs begin at. */

export type PointNode = Schemas["OperatingPointNode"];

const get = useBench.getState;

/** A name that no saved point has, as far as the first free number. */
export function freeName(taken: readonly string[], stem: string): string {
  if (!taken.includes(stem)) return stem;
  let number = 2;
  while (taken.includes(`${stem} ${number}`)) number++;
  return `${stem} ${number}`;
}

const names = () => Object.values(get().model.operatingPoints).map((p) => p.name);

export function savePoint(node: PointNode, name: string): void {
  const wanted = freeName(names(), name.trim() || "Operating point");
  edit("Save an operating point", [{ op: "add", path: pointer("operatingPoints", newId("o")), value: { ...node, name: wanted } }]);
  notify(`${wanted} is among the saved operating points.`);
}

/** Saves many at once, as one edit. */
export function savePoints(found: readonly { node: PointNode; name: string }[]): void {
  const taken = names();
  const operations: Operation[] = found.map(({ node, name }) => {
    const wanted = freeName(taken, name);
    taken.push(wanted);
    return { op: "add", path: pointer("operatingPoints", newId("o")), value: { ...node, name: wanted } };
  });
  edit(`Save ${found.length} operating points`, operations);
  notify(`${found.length} operating points are saved; undo takes them back.`);
}

export const renamePoint = (id: string, name: string) =>
  edit("Rename an operating point", [{ op: "replace", path: pointer("operatingPoints", id, "name"), value: name }]);

export function removePoint(id: string): void {
  const operations: Operation[] = [{ op: "remove", path: pointer("operatingPoints", id) }];
  if (runSettings(get()).point === id) operations.unshift(startAt(""));
  if (useTune.getState().saved === id) lookFrom(null, null);
  edit("Remove an operating point", operations);
}

const startAt = (id: string): Operation => ({ op: "add", path: pointer("settings", "point"), value: id });

/** Lets runs begin at a saved point, or with an empty id as the settings say. */
export const startRunsAt = (id: string) => edit("Choose where runs begin", [startAt(id)]);
