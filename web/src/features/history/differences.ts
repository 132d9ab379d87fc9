import type { Schemas } from "../../api/client";
import type { Mark } from "../../canvas/LevelPicture";

type Level = Schemas["LevelDifference"];

/** The levels without what only moved, where that is not wanted. */
export const changesOf = (levels: readonly Level[], hidesPlaces: boolean): Level[] =>
  levels
    .map((l) => (hidesPlaces ? { ...l, differences: l.differences.filter((d) => d.change !== "moved") } : l))
    .filter((l) => l.differences.length > 0);

/** What is set off on one side of a level, by the ids that it has there. */
export function marksOf(level: Level, side: "left" | "right"): Map<string, Mark> {
  const marks = new Map<string, Mark>();
  for (const d of level.differences) {
    const id = d[side];
    if (id && d.what !== "signal" && d.what !== "parameter" && d.what !== "face") marks.set(id, d.change);
  }
  return marks;
}

/** How much differs, in a few words. */
export function countsOf(level: Level): string {
  const count = (change: Mark) => level.differences.filter((d) => d.change === change).length;
  return (["added", "removed", "changed", "moved"] as const)
    .map((c) => [c, count(c)] as const)
    .filter(([, n]) => n > 0)
    .map(([c, n]) => `${n} ${c}`)
    .join(", ");
}

export interface ValueRow {
  level: string;
  part: string;
  field: string;
  left: string | null | undefined;
  right: string | null | undefined;
}

/** Every value that differs, with the level and the part that it is of. */
export const valuesOf = (levels: readonly Level[]): ValueRow[] =>
  levels.flatMap((l) =>
    l.differences.flatMap((d) =>
      d.fields
        .filter((f) => f.isValue)
        .map((f) => ({
          level: l.name || "Model",
          part: d.what === "parameter" ? "" : d.name,
          field: d.what === "parameter" ? d.name : f.field,
          left: f.left,
          right: f.right,
        })),
    ),
  );
