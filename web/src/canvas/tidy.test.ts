import ELK from "elkjs/lib/elk.bundled.js";
import { describe, expect, it } from "vitest";
import type { PartView } from "../api/client";
import type { Diagram } from "../state/document";
import { crossingsOf, hintsOf } from "./legibility";
import { RouteCache } from "./routes";
import { graphOf, placesOf, withPlaces } from "./tidy";

const port = (name: string, isInput: boolean) => ({
  name,
  isInput,
  side: isInput ? "left" : "right",
  kind: "real",
  plug: "real",
  takes: [],
  what: "",
});
const view = {
  face: "",
  width: 64,
  height: 48,
  shape: "plate",
  ports: [port("u", true), port("y", false)],
  parameters: {},
  actions: [],
} as unknown as PartView;

/** A loop of five parts that were dropped anywhere, with an area around two of them. */
const places: [string, number, number][] = [
  ["set", 400, 300],
  ["sum", 16, 16],
  ["pid", 320, 24],
  ["plant", 96, 200],
  ["sensor", 520, 96],
];
const wire = (from: string, to: string) => ({ from: { part: from, port: "y" }, to: { part: to, port: "u" }, bends: [{ x: 8, y: 8 }] });
const diagram = {
  name: "Loop",
  kind: "diagram",
  parameters: {},
  parts: Object.fromEntries(places.map(([id, x, y]) => [id, { type: "Gain", name: id, x, y, parameters: {} }])),
  wires: { a: wire("set", "sum"), b: wire("sum", "pid"), c: wire("pid", "plant"), d: wire("plant", "sensor"), e: wire("sensor", "sum") },
  signals: {},
  areas: { box: { text: "Plant", x: 80, y: 180, width: 200, height: 100, tone: "plain" } },
  notes: {},
} as unknown as Diagram;
const views = Object.fromEntries(places.map(([id]) => [id, view]));
const all = new Set(places.map(([id]) => id));

const tidied = async (ids: ReadonlySet<string>) => placesOf(await new ELK().layout(graphOf(diagram, views, ids)), diagram, ids);

describe("tidying a level", () => {
  it("lays it out from left to right, on the grid, without overlaps", async () => {
    const after = withPlaces(diagram, await tidied(all));
    const x = (id: string) => after.parts[id]?.x ?? 0;
    expect([x("set"), x("sum"), x("pid"), x("plant"), x("sensor")]).toEqual(
      [...[x("set"), x("sum"), x("pid"), x("plant"), x("sensor")]].sort((a, b) => a - b),
    );
    for (const p of Object.values(after.parts)) expect([p.x % 8, p.y % 8]).toEqual([0, 0]);
    const routes = new RouteCache().routes(after, views, null);
    expect(hintsOf(after, views, routes).filter((h) => h.kind === "overlap" || h.kind === "through")).toEqual([]);
  });

  it("keeps the parts of an area inside it, and the corner where it was", async () => {
    const after = withPlaces(diagram, await tidied(all));
    const [area, plant] = [after.areas.box, after.parts.plant];
    if (!area || !plant) throw new Error("lost");
    expect(plant.x).toBeGreaterThan(area.x);
    expect(plant.y + 48).toBeLessThan(area.y + area.height);
    expect(Math.min(...Object.values(after.parts).map((p) => p.x))).toBe(16);
  });

  it("moves the selection alone, and only wires at it lose their corners", async () => {
    const chosen = new Set(["sum", "pid"]);
    const found = await tidied(chosen);
    expect(Object.keys(found.parts).sort()).toEqual(["pid", "sum"]);
    const after = withPlaces(diagram, found);
    expect(after.parts.set).toBe(diagram.parts.set);
    expect(after.wires.d).toBe(diagram.wires.d);
    expect(after.wires.b?.bends).toEqual([]);
  });
});

describe("what reads badly", () => {
  const routes = new Map([
    [
      "a",
      [
        { x: 0, y: 50 },
        { x: 100, y: 50 },
      ],
    ],
    [
      "b",
      [
        { x: 50, y: 0 },
        { x: 50, y: 100 },
      ],
    ],
    [
      "c",
      [
        { x: 60, y: 50 },
        { x: 60, y: 100 },
      ],
    ],
  ]);

  it("counts crossings of wires of different sources, not where they meet", () =>
    expect(crossingsOf(diagram, routes)).toEqual([["b", "a"]]));

  it("tells of parts on each other and of wires through parts", () => {
    const on = { ...diagram, parts: { ...diagram.parts, pid: { ...diagram.parts.set, name: "pid" } } } as Diagram;
    const hints = hintsOf(
      on,
      views,
      new Map([
        [
          "e",
          [
            { x: 0, y: 320 },
            { x: 700, y: 320 },
          ],
        ],
      ]),
    );
    expect(hints.map((h) => h.kind)).toContain("overlap");
    expect(hints.find((h) => h.kind === "through")?.text).toMatch(/runs through/);
  });

  it("does not take a feedback for a wire that runs back", () => {
    const after = {
      ...diagram,
      parts: Object.fromEntries(places.map(([id], i) => [id, { ...diagram.parts[id], x: i * 100, y: 0 }])),
    } as Diagram;
    const hints = hintsOf(after, views, new RouteCache().routes(after, views, null));
    expect(hints.filter((h) => h.kind === "backward")).toEqual([]);
    const back = { ...after, parts: { ...after.parts, set: { ...after.parts.set, x: 900 } } } as Diagram;
    expect(
      hintsOf(back, views, new RouteCache().routes(back, views, null)).some((h) => h.kind === "backward" && h.text.includes("set")),
    ).toBe(true);
  });
});
