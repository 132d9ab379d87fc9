import type { Operation } from "./document";
import { edit, here, restructure } from "./model";
import { notify, useBench } from "./bench";

/** Slots and options as edits: which realisation is in, and on what condition a part is. */

const present = () => useBench.getState();

/** Puts a realisation of a slot in, by its name. */
export function choose(part: string, name: string): void {
  const slot = present().view.parts[part]?.slot;
  const value = slot?.values[slot.names.indexOf(name)];
  if (slot && value !== undefined) edit(`Put ${name} in`, [{ op: "add", path: here("parts", part, "parameters", slot.parameter), value }]);
}

/** Puts the next realisation of each selected slot in; false where none is selected. */
export function stepAlternatives(by: number): boolean {
  const { selection, view, diagram } = present();
  const slots = [...selection].flatMap((id) => {
    const slot = view.parts[id]?.slot;
    return slot ? [{ id, slot }] : [];
  });
  const derived = slots.find((s) => !s.slot.isGiven);
  if (derived) {
    notify(`Which realisation of ${diagram.parts[derived.id]?.name} is in follows from an expression: change that in the inspector.`);
    return true;
  }
  const operations = slots.flatMap(({ id, slot }): Operation[] => {
    const at = slot.names.indexOf(slot.present ?? "");
    const value = slot.values[(at + by + slot.names.length) % slot.names.length];
    return slot.names.length < 2 || value === undefined
      ? []
      : [{ op: "add", path: here("parts", id, "parameters", slot.parameter), value }];
  });
  edit(by > 0 ? "Next realisation" : "Last realisation", operations);
  return slots.length > 0;
}

export const makeSlot = (part: string) => restructure({ kind: "makeSlot", part });

/** The condition on which a part is in the model; none for always. */
export function setCondition(part: string, condition: string | null): void {
  const path = here("parts", part, "onlyWhen");
  const had = (present().diagram.parts[part]?.onlyWhen ?? null) !== null;
  if (condition === null) edit("Always there", had ? [{ op: "remove", path }] : []);
  else edit(`Only when ${condition}`, [{ op: "add", path, value: condition }]);
}

/** What an output is while its part is left out; none for zero. */
export function setOtherwise(part: string, port: string, value: string | null): void {
  const before = present().diagram.parts[part]?.otherwise ?? {};
  const others = Object.entries(before).filter(([name]) => name !== port);
  const now = Object.fromEntries(value === null ? others : [...others, [port, value]]);
  edit(
    `Value of ${port} when left out`,
    Object.keys(now).length === 0
      ? [{ op: "remove", path: here("parts", part, "otherwise") }]
      : [{ op: "add", path: here("parts", part, "otherwise"), value: now }],
  );
}
