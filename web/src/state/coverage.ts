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

/** What cases came by in a part and all inside it, and what they did not in words. */
export function coveredAt(view: Coverage, part: string): { covered: number; total: number; missing: string[] } {
  const sides = view.points.filter((p) => p.part === part || p.part.startsWith(`${part}/`)).flatMap((p) => p.sides);
  const seen = sides.filter((s) => Number(s.count) > 0);
  return { covered: seen.length, total: sides.length, missing: sides.filter((s) => Number(s.count) === 0).map((s) => s.words) };
}
