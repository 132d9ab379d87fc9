import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import type { PartView } from "../api/client";
import type { Diagram } from "../state/document";
import { frameOf, LevelPicture } from "./LevelPicture";
import { RouteCache } from "./routes";

const port = (name: string, isInput: boolean) => ({
  name,
  isInput,
  side: isInput ? "left" : "right",
  kind: "real",
  plug: "real",
  takes: [],
  what: "",
});
const view = (more: object) =>
  ({
    face: "k",
    width: 64,
    height: 48,
    shape: "plate",
    ports: [port("u", true), port("y", false)],
    parameters: {},
    actions: [],
    ...more,
  }) as unknown as PartView;
const diagram = {
  parts: {
    a: { type: "Gain", name: "First", x: 0, y: 0, parameters: {} },
    b: { type: "Gain", name: "Second <b>", x: 160, y: 0, parameters: {} },
  },
  wires: { w: { from: { part: "a", port: "y" }, to: { part: "b", port: "u" }, bends: [] } },
  signals: { "a.y": { name: "level" } },
  areas: { r: { text: "Here", x: -16, y: -32, width: 300, height: 120, tone: "sea" } },
  notes: { n: { text: "one\ntwo", x: 0, y: 100 } },
  parameters: {},
} as unknown as Diagram;
const views = { a: view({}), b: view({ leftOut: true, symbol: "step" }) };
const routes = new RouteCache().routes(diagram, views, null);

describe("a level as a drawing", () => {
  const text = renderToStaticMarkup(
    <LevelPicture diagram={diagram} views={views} routes={routes} marks={new Map([["w", "added"]])} face={(v) => <text>{v.face}</text>} />,
  );

  it("has parts, wires, names, areas and notes, and leans on no style sheet", () => {
    for (const said of ["First", "Second &lt;b&gt;", "level", "Here", "one", "two"]) expect(text).toContain(said);
    expect(text).not.toMatch(/class=|var\(/);
  });

  it("sets off what is marked and fades what is left out", () => {
    expect(text).toContain('stroke="#2e7d5b"');
    expect(text).toContain('opacity="0.45"');
  });

  it("lies in a frame around all of it", () => {
    const f = frameOf(diagram, views, routes);
    expect(f.x).toBeLessThan(-16);
    expect(f.x + f.width).toBeGreaterThan(284);
    expect(f.y + f.height).toBeGreaterThan(118);
  });
});
