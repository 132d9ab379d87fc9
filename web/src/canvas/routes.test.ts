import { describe, expect, it } from "vitest";
import type { PartView } from "../api/client";
import type { Diagram, PartNode } from "../state/document";
import { RouteCache } from "./routes";

const node = (x: number, y: number): PartNode => ({ type: "Gain", name: "G", x, y, flip: false, turn: 0, parameters: {} });
const port = (name: string, isInput: boolean) => ({ name, isInput, side: isInput ? "left" : "right" });
const view = { width: 64, height: 48, shape: "plate", ports: [port("u", true), port("y", false)] } as unknown as PartView;
const wire = (from: string, to: string) => ({ from: { part: from, port: "y" }, to: { part: to, port: "u" }, bends: [] });

const diagram = {
  parts: { a: node(0, 0), b: node(160, 0), c: node(320, 80), d: node(480, 80) },
  wires: { ab: wire("a", "b"), bc: wire("b", "c"), cd: wire("c", "d") },
} as unknown as Diagram;
const views = { a: view, b: view, c: view, d: view };

describe("routes", () => {
  it("are the same objects while nothing changes", () => {
    const cache = new RouteCache();
    const first = cache.routes(diagram, views, null);
    expect(cache.routes({ ...diagram }, { ...views }, null)).toBe(first);
  });

  it("are made anew only where a part is dragged", () => {
    const cache = new RouteCache();
    const before = cache.routes(diagram, views, null);
    const now = cache.routes(diagram, views, { ids: new Set(["a"]), dx: 0, dy: 40 });
    expect(now.get("ab")).not.toEqual(before.get("ab"));
    expect(now.get("bc")).toBe(before.get("bc"));
    expect(now.get("cd")).toBe(before.get("cd"));
  });

  it("end at the ports", () => {
    const points = new RouteCache().routes(diagram, views, { ids: new Set(["b"]), dx: 8, dy: 16 }).get("ab") ?? [];
    expect(points[0]).toEqual({ x: 64, y: 24 });
    expect(points.at(-1)).toEqual({ x: 168, y: 40 });
  });

  it("of wires between parts dragged together keep their bends", () => {
    const bent = { ...diagram, wires: { bc: { ...wire("b", "c"), bends: [{ x: 272, y: 24 }] } } } as unknown as Diagram;
    const cache = new RouteCache();
    const before = cache.routes(bent, views, null).get("bc") ?? [];
    const after = cache.routes(bent, views, { ids: new Set(["b", "c"]), dx: 16, dy: 24 }).get("bc");
    expect(after).toEqual(before.map((p) => ({ x: p.x + 16, y: p.y + 24 })));
  });

  it("go with wires and parts that are taken away", () => {
    const cache = new RouteCache();
    cache.routes(diagram, views, null);
    expect([...cache.routes({ ...diagram, wires: { ab: wire("a", "b") } }, views, null).keys()]).toEqual(["ab"]);
    expect(cache.routes({ ...diagram, parts: { a: diagram.parts.a as PartNode } }, views, null).size).toBe(0);
  });

  it("give way to a dragged part, and come back when it has passed", () => {
    const parts = { a: node(0, 0), b: node(480, 0), d: node(224, 160) };
    const plan = { parts, wires: { ab: wire("a", "b") } } as unknown as Diagram;
    const all = { a: view, b: view, d: view };
    const cache = new RouteCache();
    const before = cache.routes(plan, all, null).get("ab");
    const drag = (dy: number) => cache.routes(plan, all, { ids: new Set(["d"]), dx: 0, dy }).get("ab");
    expect(drag(-160)).not.toEqual(before);
    expect(drag(-400)).toEqual(before);
    drag(-160);
    expect(cache.routes(plan, all, null).get("ab")).toEqual(before);
  });

  it("look when a part is let go as they did before it was", () => {
    const { plan, all } = lattice(5);
    const cache = new RouteCache();
    cache.routes(plan, all, null);
    const shift = { ids: new Set(["p12"]), dx: 72, dy: 64 };
    const shown = new Map(cache.routes(plan, all, shift));
    const moved = plan.parts.p12 as PartNode;
    const letGo = { ...plan, parts: { ...plan.parts, p12: { ...moved, x: moved.x + 72, y: moved.y + 64 } } };
    expect(new Map(cache.routes(letGo, all, null))).toEqual(shown);
  });

  it("of other wires stay where they are when a part moves to a free place, or a wire is added", () => {
    const { plan, all } = lattice(6);
    const cache = new RouteCache();
    const before = cache.routes(plan, all, null);
    const moved = plan.parts.p14 as PartNode;
    const now = { ...plan, parts: { ...plan.parts, p14: { ...moved, x: moved.x + 3000 } } };
    const after = cache.routes(now, all, null);
    for (const [id, w] of Object.entries(plan.wires))
      if (w.from.part !== "p14" && w.to.part !== "p14") expect([id, after.get(id)]).toEqual([id, before.get(id)]);
    const more = { ...now, wires: { ...now.wires, more: wire("p1", "p20") } } as unknown as Diagram;
    const added = cache.routes(more, all, null);
    for (const id of Object.keys(plan.wires)) expect(added.get(id)).toBe(after.get(id));
  });
});

/** Parts in rows and columns, each wired to one some places on. */
function lattice(side: number) {
  const ids = Array.from({ length: side * side }, (_, i) => `p${i}`);
  const parts = Object.fromEntries(ids.map((id, i) => [id, node(176 * (i % side), 136 * Math.floor(i / side))]));
  const wires = Object.fromEntries(ids.map((id, i) => [`w${i}`, wire(id, ids[(i * 7 + 3) % ids.length] as string)]));
  return { plan: { parts, wires } as unknown as Diagram, all: Object.fromEntries(ids.map((id) => [id, view])) };
}
