import { create } from "zustand";
import { api, ask, type Schemas } from "../api/client";
import { author } from "./author";
import { notifyError, useBench } from "./bench";
import { newId, pointer } from "./document";
import { edit, queueIdle } from "./model";

/** What the cases of the model have come by. */

export type Coverage = Schemas["CoverageView"];
export type Point = Schemas["CoveragePoint"];
export type Side = Schemas["CoverageSide"];

interface CoverageState {
  model: string;
  view: Coverage | null;
  /** The kind, or the part, to which the table is narrowed; null for all. */
  kind: string | null;
  part: string | null;
  /** Whether only that is shown which no case came by. */
  holes: boolean;
  /** Whether the diagram shows it below its parts. */
  marks: boolean;
}

export const useCoverage = create<CoverageState>()(() => ({ model: "", view: null, kind: null, part: null, holes: true, marks: false }));

export async function readCoverage(): Promise<void> {
  const { id } = useBench.getState();
  if (useCoverage.getState().model !== id) useCoverage.setState({ model: id, view: null, kind: null, part: null, holes: true });
  try {
    await queueIdle();
    const view = await ask(api.GET("/api/models/{id}/coverage", { params: { path: { id } } }));
    if (useBench.getState().id === id) useCoverage.setState({ view });
  } catch (e) {
    notifyError((e as Error).message);
  }
}

/** Writes down why something needs no case. */
export function justify(goal: string, side: string, reason: string): void {
  const value = { goal, side, reason, by: author(), date: new Date().toISOString().slice(0, 10) };
  edit("Justify", [{ op: "add", path: pointer("justifications", newId("j")), value }]);
}

export const unjustify = (id: string) => edit("Take a justification back", [{ op: "remove", path: pointer("justifications", id) }]);

/** How much cases came by, and what they did not in words. */
export interface Covered {
  covered: number;
  total: number;
  missing: string[];
}

function covered(points: readonly Point[]): Covered {
  const sides = points.flatMap((p) => p.sides);
  const missing = sides.filter((s) => Number(s.count) === 0).map((s) => s.words);
  return { covered: sides.length - missing.length, total: sides.length, missing };
}

/** The points by what they are of; those that are of nothing are left out. */
function grouped<K>(points: readonly Point[], key: (p: Point) => K | null): Map<K, Covered> {
  const by = new Map<K, Point[]>();
  for (const p of points) {
    const of = key(p);
    if (of === null) continue;
    const known = by.get(of);
    if (known) known.push(p);
    else by.set(of, [p]);
  }
  return new Map([...by].map(([of, all]) => [of, covered(all)]));
}

/** What cases came by in a part and all inside it. */
export const coveredAt = (view: Coverage, part: string): Covered =>
  covered(view.points.filter((p) => p.part === part || p.part.startsWith(`${part}/`)));

/** The same for each state and transition of a chart, or each line of what another form has. */
export const coveredItems = (view: Coverage, part: string): Map<string, Covered> =>
  grouped(
    view.points.filter((p) => p.part === part),
    (p) => p.item ?? null,
  );

/** The same for each line of the text of a part, over all its uses. */
export const coveredLines = (view: Coverage, type: string): Map<number, Covered> =>
  grouped(
    view.points.filter((p) => p.type === type),
    (p) => (Number(p.line) > 0 ? Number(p.line) : null),
  );

/** In words, for what shows it as a mark. */
export const coveredWords = ({ covered, total, missing }: Covered): string =>
  `the cases came by ${covered} of ${total}${missing.length > 0 ? `; ${missing.join("; ")}` : ""}`;
