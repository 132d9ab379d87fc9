import { describe, expect, test } from "vitest";
import type { ModelDocument } from "./document";
import { freeSpot, freshCurve, freshTile, members, PLOTTED, sheetsOf, shownSheet, signalsOf, type PlotSheet } from "./plotSheets";

const model = (plotSheets: Record<string, PlotSheet>) =>
  ({
    root: "main",
    plotSheets,
    definitions: {
      main: { kind: "diagram", parts: {}, signals: { "a.y": { probe: 0 }, "b.y": { probe: 3 }, "c.y": { name: "unplotted" } } },
    },
  }) as unknown as ModelDocument;

const sheet = (order: number, tiles: PlotSheet["tiles"] = {}): PlotSheet => ({ name: `n${order}`, order, tiles });

describe("sheets of plots", () => {
  test("a model without any shows what is plotted, each strip as it was", () => {
    const [[id, node]] = sheetsOf(model({})) as [[string, PlotSheet]];
    expect(id).toBe(PLOTTED);
    expect(Object.values(node.tiles.t0?.curves ?? {}).map((c) => [c.signal, c.strip])).toEqual([
      ["a.y", 0],
      ["b.y", 1],
    ]);
  });

  test("stand in their order; one that is gone gives way to the first", () => {
    const two = model({ x: sheet(2), y: sheet(1) });
    expect(sheetsOf(two).map(([id]) => id)).toEqual(["y", "x"]);
    expect(shownSheet({ model: two, sheet: "x" })[0]).toBe("x");
    expect(shownSheet({ model: two, sheet: "gone" })[0]).toBe("y");
  });

  test("a member without a value goes, others are set", () => {
    expect(members("/plotSheets/g/tiles/t", { title: undefined, "a/b": 0 })).toEqual([
      { op: "remove", path: "/plotSheets/g/tiles/t/title" },
      { op: "add", path: "/plotSheets/g/tiles/t/a~1b", value: 0 },
    ]);
  });

  test("a new tile stands where there is room", () => {
    const node = sheet(0, { a: freshTile("strips", { width: 8, height: 4 }) });
    expect(freeSpot(node, 4, 3)).toEqual({ x: 8, y: 0, width: 4, height: 3 });
    expect(freeSpot(node, 6, 3)).toEqual({ x: 0, y: 4, width: 6, height: 3 });
  });

  test("ask for their signals in the units of their axes", () => {
    const tile = freshTile("strips", {
      abscissa: "p.x",
      curves: { a: freshCurve("p.y"), b: freshCurve("p.z", { onRight: true }) },
      strips: [{ left: { logarithmic: false, unit: "mm" }, right: { logarithmic: false } }],
    });
    expect(signalsOf(sheet(0, { tile }))).toEqual([
      { signal: "p.y", unit: "mm" },
      { signal: "p.z", unit: null },
      { signal: "p.x", unit: null },
    ]);
  });
});
