import { notify, useBench } from "./bench";
import { levelAt, pointer, referenceOf, type Operation } from "./document";
import { clipOf, pasted } from "./edits";
import { edit, goToLevel, restructure } from "./model";

/** What reaches across levels: the ports of a level seen from outside, and parts that move from one level to another. */

/** Moves a port of a subsystem on its plate. */
export async function movePort(part: string, port: string, side: string, index: number): Promise<void> {
  const { model, level, view } = useBench.getState();
  const inner = referenceOf(level, part);
  const within = levelAt(model, inner)?.diagram.parts ?? {};
  const id = Object.keys(within).find((i) => within[i]?.name === port);
  if (id !== undefined)
    await restructure({ kind: "movePort", port: id, side, index: Math.min(index, view.parts[part]?.ports.length ?? 0) }, inner);
}

/** How far below what is there a part comes to stand on another level. */
const BELOW = 96;

/** Moves a part to another level, as it would be cut and pasted. Wires to what stays are cut. */
export async function moveToLevel(path: string, target: string): Promise<void> {
  const { model } = useBench.getState();
  const cut = path.lastIndexOf("/");
  const [source, id] = [path.slice(0, Math.max(0, cut)), path.slice(cut + 1)];
  const [from, to] = [levelAt(model, source), levelAt(model, target)];
  const part = from?.diagram.parts[id];
  if (!from || !to || !part || from.definition === to.definition) return;
  if (to.chart || to.table) return notify(`A ${to.chart ? "state chart" : "table"} takes no parts.`);
  const clip = clipOf(model, from.diagram, new Set([id]));
  if (to.definition in clip.definitions) return notify(`${part.name} cannot go into itself.`);
  const taken = Object.values(to.diagram.parts);
  const dx = taken.length > 0 ? Math.min(...taken.map((p) => p.x)) - part.x : 0;
  const dy = taken.length > 0 ? Math.max(...taken.map((p) => p.y)) + BELOW - part.y : 0;
  const { operations, ids } = pasted(clip, { model, ...to }, dx, dy);
  const wires = Object.entries(from.diagram.wires).filter(([, w]) => w.from.part === id || w.to.part === id);
  const here = (...steps: string[]) => pointer("definitions", from.definition, ...steps);
  const removals: Operation[] = [
    ...wires.map(([wire]) => ({ op: "remove" as const, path: here("wires", wire) })),
    ...Object.keys(from.diagram.signals)
      .filter((key) => key.startsWith(id + "."))
      .map((key) => ({ op: "remove" as const, path: here("signals", key) })),
    { op: "remove", path: here("parts", id) },
  ];
  edit(`Move ${part.name}`, [...operations, ...removals]);
  await goToLevel(target, ids);
  if (wires.length > 0) notify(`${part.name} has moved; ${wires.length === 1 ? "a wire" : `${wires.length} wires`} to it stayed behind.`);
}
