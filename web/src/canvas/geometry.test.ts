import { describe, expect, it } from "vitest";
import { branchPoints, edgeAt, nearestSegment, portOffset, route, type PortPlace } from "./geometry";
import { draggedCorners } from "./tools";
import { toDiagram, zoomAt } from "./viewport";
import type { PartView } from "../api/client";

const port = (x: number, y: number, side: PortPlace["side"]): PortPlace => ({ x, y, side });

const isRightAngled = (points: { x: number; y: number }[]) =>
  points.every((p, i) => i === 0 || p.x === points[i - 1]!.x || p.y === points[i - 1]!.y);

describe("route", () => {
  it("runs straight where the ports face each other on one level", () => {
    expect(route(port(0, 10, "right"), port(100, 10, "left"), [])).toEqual([
      { x: 0, y: 10 },
      { x: 100, y: 10 },
    ]);
  });

  it("has right angles only, wherever the ports are", () => {
    const sides = ["left", "top", "bottom", "right"] as const;
    for (const [start, side] of sides.flatMap((a) => sides.map((b) => [a, b] as const)))
      for (let x = -200; x <= 200; x += 40)
        for (let y = -200; y <= 200; y += 40) {
          const points = route(port(0, 0, start), port(x, y, side), []);
          expect(isRightAngled(points)).toBe(true);
          expect(points[0]).toEqual({ x: 0, y: 0 });
          expect(points.at(-1)).toEqual({ x, y });
        }
  });

  it("leaves an output to the right and enters an input from the left", () => {
    const points = route(port(0, 0, "right"), port(-80, 0, "left"), []);
    expect(points[1]!.x).toBeGreaterThan(0);
    expect(points.at(-2)!.x).toBeLessThan(-80);
  });

  it("leaves a port at the bottom downwards and enters one at the top from above", () => {
    const points = route(port(0, 0, "bottom"), port(80, -40, "top"), []);
    expect(points[1]!.y).toBeGreaterThan(0);
    expect(points.at(-2)!.y).toBeLessThan(-40);
  });

  it("keeps the user's bends when an end moves", () => {
    const bends = [
      { x: 40, y: 0 },
      { x: 40, y: 90 },
      { x: 60, y: 90 },
    ];
    const points = route(port(0, 16, "right"), port(100, 50, "left"), bends);
    expect(points).toEqual([
      { x: 0, y: 16 },
      { x: 40, y: 16 },
      { x: 40, y: 90 },
      { x: 60, y: 90 },
      { x: 60, y: 50 },
      { x: 100, y: 50 },
    ]);
  });
});

describe("branchPoints", () => {
  it("finds where two wires of one source part", () => {
    const a = route(port(0, 0, "right"), port(100, 0, "left"), []);
    const b = route(port(0, 0, "right"), port(100, 80, "left"), []);
    expect(branchPoints([a, b])).toEqual([{ x: 48, y: 0 }]);
  });
});

describe("portOffset", () => {
  const view: PartView = {
    face: "",
    width: 64,
    height: 48,
    shape: "plate",
    symbol: null,
    drawing: null,
    opens: null,
    actions: [],
    parameters: {},
    curve: null,
    members: null,
    ports: ["u1", "u2", "y"].map((name) => ({
      name,
      description: null,
      isInput: name !== "y",
      side: name === "y" ? "right" : "left",
      kind: "real",
      plug: "",
      takes: [],
      what: "",
      sign: null,
      domain: null,
      potential: null,
      flow: null,
      elements: null,
      action: null,
    })),
  };

  it("spreads inputs on the left and mirrors a flipped part", () => {
    expect(portOffset(view, "u1", {})).toEqual({ x: 0, y: 16, side: "left" });
    expect(portOffset(view, "u2", {})).toEqual({ x: 0, y: 32, side: "left" });
    expect(portOffset(view, "y", {})).toEqual({ x: 64, y: 24, side: "right" });
    expect(portOffset(view, "y", { flip: true })).toEqual({ x: 0, y: 24, side: "left" });
  });

  it("turns a part by quarters clockwise, after it is mirrored", () => {
    const upright = { ...view, width: 48, height: 64 };
    expect(portOffset(upright, "y", { turn: 1 })).toEqual({ x: 24, y: 64, side: "bottom" });
    expect(portOffset(upright, "u1", { turn: 1 })).toEqual({ x: 32, y: 0, side: "top" });
    expect(portOffset(upright, "y", { turn: 1, flip: true })).toEqual({ x: 24, y: 0, side: "top" });
    expect(portOffset(view, "y", { turn: 2 })).toEqual({ x: 0, y: 24, side: "left" });
    expect(portOffset(upright, "y", { turn: 3 })).toEqual({ x: 24, y: 0, side: "top" });
  });

  it("leaves a bundle as it is: the names of its members are read", () => {
    expect(portOffset({ ...view, shape: "bar" }, "y", { turn: 1 }).side).toBe("right");
  });
});

describe("tools", () => {
  it("zooms about the pointer", () => {
    const before = { x: 10, y: 20, zoom: 1 };
    const at = { x: 200, y: 100 };
    const after = zoomAt(before, at, 1.5);
    expect(toDiagram(after, at).x).toBeCloseTo(toDiagram(before, at).x, 9);
    expect(toDiagram(after, at).y).toBeCloseTo(toDiagram(before, at).y, 9);
  });

  it("drags a stretch of a route and keeps right angles", () => {
    const points = route(port(0, 0, "right"), port(100, 80, "left"), []);
    const corners = draggedCorners(points, 1, true, { x: 80, y: 40 });
    expect(route(port(0, 0, "right"), port(100, 80, "left"), corners)).toContainEqual({ x: 80, y: 80 });
  });

  it("finds the stretch under the pointer", () => {
    const near = nearestSegment(
      [
        { x: 0, y: 0 },
        { x: 50, y: 0 },
        { x: 50, y: 50 },
      ],
      { x: 53, y: 20 },
    );
    expect(near).toEqual({ index: 1, distance: 3, point: { x: 50, y: 20 } });
  });
});

describe("edgeAt", () => {
  const port = (name: string, side: string) => ({ name, side });
  const view = {
    width: 96,
    height: 64,
    shape: "plate",
    ports: [port("a", "left"), port("b", "left"), port("c", "right")],
  } as unknown as PartView;
  const at = (x: number, y: number, pose = {}) =>
    edgeAt({ type: "#d", name: "D", x: 100, y: 100, flip: false, turn: 0, parameters: {}, ...pose }, view, "c", { x, y });

  it("is the nearest edge, between the ports that stand there", () => {
    expect(at(102, 104)).toEqual({ side: "left", index: 0 });
    expect(at(98, 132)).toEqual({ side: "left", index: 1 });
    expect(at(101, 160)).toEqual({ side: "left", index: 2 });
    expect(at(150, 98)).toEqual({ side: "top", index: 0 });
    expect(at(197, 140)).toEqual({ side: "right", index: 0 });
  });

  it("is that before the part was mirrored and turned", () => {
    expect(at(198, 132, { flip: true })).toEqual({ side: "left", index: 1 });
    // Turned by a quarter, the upright part's left edge is on top.
    const turned = { ...view, width: 64, height: 96 };
    const node = { type: "#d", name: "D", x: 0, y: 0, flip: false, turn: 1, parameters: {} };
    expect(edgeAt(node, turned, "c", { x: 32, y: 2 })).toEqual({ side: "left", index: 1 });
  });
});
