import { describe, expect, it } from "vitest";
import { grouped } from "./historyGroups";

const entry = (
  revision: number,
  label: string,
  author: string,
  made: string,
  effect = "Values",
  kind = "edit",
  target: number | null = null,
) => ({
  revision,
  kind,
  target,
  label,
  author,
  made,
  effect,
});

const log = [
  entry(5, "undo", "Ben", "2026-11-20T12:00:00Z", "Layout", "undo", 4),
  entry(4, "Move", "Iva", "2026-11-20T11:00:00Z", "Layout"),
  entry(3, "Move", "Iva", "2026-11-20T10:59:00Z", "Layout"),
  entry(2, "Set k", "Iva", "2026-11-18T09:00:00Z"),
  entry(1, "Connect", "Iva", "2026-11-18T08:00:00Z", "Structure, Values"),
];

describe("the log by day and author", () => {
  it("begins a group where either changes, and tells edits of one label as one", () => {
    const groups = grouped(log, "");
    expect(groups.map((g) => [g.author, g.entries.map((e) => `${e.text} ×${e.count}`)])).toEqual([
      ["Ben", ["Took r4 back ×1"]],
      ["Iva", ["Move ×2"]],
      ["Iva", ["Set k ×1", "Connect ×1"]],
    ]);
  });

  it("leaves edits of other kinds out", () => {
    expect(grouped(log, "Values").flatMap((g) => g.entries.map((e) => e.revision))).toEqual([2, 1]);
    expect(grouped(log, "Settings")).toEqual([]);
  });
});
