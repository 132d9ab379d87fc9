import type { Schemas } from "../api/client";
import { useBench } from "./bench";
import { newId, pointer, type Operation } from "./document";
import { edit } from "./model";
import { members } from "./plotSheets";

/** Tolerances of the model as data, and edits of them. Each is one undo step. */

export type Tolerance = Schemas["ToleranceNode"];
export type ToleranceGroup = Schemas["ToleranceGroupNode"];

const get = useBench.getState;

export const tolerancesOf = (all: Readonly<Record<string, Tolerance>>): [string, Tolerance][] =>
  Object.entries(all).sort((a, b) => Number(a[1].order) - Number(b[1].order));

export function addTolerance(target: string, label: string, values = "± 5 %"): void {
  const { tolerances } = get().model;
  if (Object.values(tolerances).some((t) => t.target === target)) return;
  const order = Math.max(0, ...Object.values(tolerances).map((t) => Number(t.order))) + 1;
  const value: Tolerance = { target, values, order };
  edit(`Give ${label} a tolerance`, [{ op: "add", path: pointer("tolerances", newId("t")), value }]);
}

export const setTolerance = (id: string, values: Partial<Tolerance>) =>
  edit("Change a tolerance", members(pointer("tolerances", id), values));

/** Removes a tolerance, and the group that nothing is in any more. */
export function removeTolerance(id: string): void {
  const { tolerances } = get().model;
  const group = tolerances[id]?.group;
  edit("Remove a tolerance", [{ op: "remove", path: pointer("tolerances", id) }, ...left(group, id)]);
}

function left(group: string | null | undefined, without: string): Operation[] {
  const { tolerances } = get().model;
  const others = Object.entries(tolerances).some(([id, t]) => id !== without && t.group === group);
  return group && !others ? [{ op: "remove", path: pointer("toleranceGroups", group) }] : [];
}

/** Puts a tolerance into a group by its name, which is made where there is none; no name takes it out. */
export function putIntoGroup(id: string, name: string): void {
  const { tolerances, toleranceGroups } = get().model;
  const now = tolerances[id];
  if (!now) return;
  const known = Object.entries(toleranceGroups).find(([, g]) => g.name === name)?.[0];
  const key = name === "" ? null : (known ?? newId("g"));
  if (key === (now.group ?? null)) return;
  edit(name === "" ? "Let a tolerance vary by itself" : `Let it vary with ${name}`, [
    ...(key !== null && known === undefined
      ? [{ op: "add" as const, path: pointer("toleranceGroups", key), value: { name, correlation: 0.8 } }]
      : []),
    ...members(pointer("tolerances", id), { group: key ?? undefined }),
    ...left(now.group, id),
  ]);
}

export const setGroup = (id: string, values: Partial<ToleranceGroup>) =>
  edit("Change a group of tolerances", members(pointer("toleranceGroups", id), values));
