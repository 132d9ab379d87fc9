import { describe, expect, it } from "vitest";
import type { Point } from "../state/document";
import type { PortPlace } from "./geometry";
import { Obstacles, type Obstacle } from "./obstacles";
import { findWays, firstChoice, type Request } from "./router";

/** Numbers that are the same every time (Park and Miller's generator). */
function* random(seed: number): Generator<number, never> {
  for (let s = seed; ;) yield (s = (s * 48271) % 2147483647) / 2147483647;
}

const box = (id: string, x: number, y: number, width = 64, height = 48): Obstacle => ({ id, x, y, width, height });
const right = (b: Obstacle): PortPlace => ({ x: b.x + b.width, y: b.y + b.height / 2, side: "right" });
const left = (b: Obstacle): PortPlace => ({ x: b.x, y: b.y + b.height / 2, side: "left" });
const wire = (id: string, a: Obstacle, b: Obstacle, net = id, bends: Point[] = []): Request => ({
  id,
  from: right(a),
  to: left(b),
  bends,
  net,
  ends: [a.id, b.id],
});

function waysOf(requests: readonly Request[], boxes: readonly Obstacle[]): Map<string, Point[]> {
  const obstacles = new Obstacles(boxes);
  const ways = findWays(requests, obstacles, (r) => firstChoice(r, obstacles), null);
  return new Map([...ways].map(([id, way]) => [id, way.points]));
}

/** Whether a way runs through the inside of a box. */
const runsThrough = (points: readonly Point[], b: Obstacle) =>
  points.some((p, i) => {
    const q = points[i - 1];
    return (
      !!q &&
      Math.max(p.x, q.x) > b.x &&
      Math.min(p.x, q.x) < b.x + b.width &&
      Math.max(p.y, q.y) > b.y &&
      Math.min(p.y, q.y) < b.y + b.height
    );
  });

/** The length that two ways share. */
function shared(a: readonly Point[], b: readonly Point[]): number {
  let length = 0;
  for (let i = 1; i < a.length; i++)
    for (let j = 1; j < b.length; j++)
      for (const [along, across] of [["x", "y"] as const, ["y", "x"] as const]) {
        const [p, q, r, s] = [a[i - 1], a[i], b[j - 1], b[j]] as [Point, Point, Point, Point];
        if (p[across] !== q[across] || r[across] !== s[across] || p[across] !== r[across]) continue;
        const overlap = Math.min(Math.max(p[along], q[along]), Math.max(r[along], s[along]));
        length += Math.max(0, overlap - Math.max(Math.min(p[along], q[along]), Math.min(r[along], s[along])));
      }
  return length;
}

describe("ways of wires", () => {
  it("go around a part that lies between", () => {
    const [a, b, c] = [box("a", 0, 0), box("b", 200, 0), box("c", 400, 0)];
    const points = waysOf([wire("ac", a, c)], [a, b, c]).get("ac") ?? [];
    expect(points[0]).toEqual({ x: 64, y: 24 });
    expect(points.at(-1)).toEqual({ x: 400, y: 24 });
    expect(runsThrough(points, b)).toBe(false);
  });

  it("do not lie on each other where two go the same way", () => {
    const boxes = [box("a", 0, 0), box("b", 0, 96), box("c", 240, 200), box("d", 240, 296)];
    const [a, b, c, d] = boxes as [Obstacle, Obstacle, Obstacle, Obstacle];
    const ways = waysOf([wire("ac", a, c), wire("bd", b, d)], boxes);
    expect(shared(ways.get("ac") ?? [], ways.get("bd") ?? [])).toBe(0);
  });

  it("share their beginning where they carry one signal", () => {
    const boxes = [box("a", 0, 0), box("c", 240, 96), box("d", 240, 192)];
    const [a, c, d] = boxes as [Obstacle, Obstacle, Obstacle];
    const ways = waysOf([wire("ac", a, c, "a.y"), wire("ad", a, d, "a.y")], boxes);
    expect(shared(ways.get("ac") ?? [], ways.get("ad") ?? [])).toBeGreaterThan(80);
  });

  it("squeeze through a gap that is narrower than they would like", () => {
    const [a, b, c] = [box("a", 0, 0), box("b", 80, 40, 96, 48), box("c", -200, 160)];
    const down: Request = { ...wire("ac", a, c), to: { x: -136, y: 184, side: "right" } };
    const points = waysOf([down], [a, b, c]).get("ac") ?? [];
    expect(runsThrough(points, { ...b, x: b.x - 1, width: b.width + 2 })).toBe(false);
  });

  it("leave corners that the user set where they are", () => {
    const [a, b, c] = [box("a", 0, 0), box("b", 200, 0), box("c", 400, 0)];
    const bends = [
      { x: 96, y: 24 },
      { x: 96, y: 120 },
      { x: 360, y: 120 },
    ];
    const points = waysOf([wire("ac", a, c, "ac", bends)], [a, b, c]).get("ac") ?? [];
    expect(points).toContainEqual({ x: 96, y: 120 });
    expect(points).toContainEqual({ x: 360, y: 120 });
  });

  it("follow from the diagram, not from the order of its wires", () => {
    const { boxes, requests } = grid(7, 5, 5);
    const forth = waysOf(requests, boxes);
    const back = waysOf([...requests].reverse(), boxes);
    for (const { id } of requests) expect(back.get(id)).toEqual(forth.get(id));
  });

  it("run through no part and on no other wire, in drawn diagrams with room between the parts", () => {
    for (let seed = 1; seed <= 40; seed++) {
      const { boxes, requests } = grid(seed, 4, 4);
      const ways = waysOf(requests, boxes);
      for (const r of requests) {
        const points = ways.get(r.id) ?? [];
        expect(points.every((p, i) => i === 0 || p.x === points[i - 1]?.x || p.y === points[i - 1]?.y)).toBe(true);
        for (const b of boxes) expect([seed, r.id, b.id, runsThrough(points, b)]).toEqual([seed, r.id, b.id, false]);
        for (const other of requests)
          if (other.net !== r.net)
            expect([seed, r.id, other.id, shared(points, ways.get(other.id) ?? [])]).toEqual([seed, r.id, other.id, 0]);
      }
    }
  });
});

/** Parts in rows and columns, not quite straight, and wires between them by lot, as many as there are parts. */
function grid(seed: number, columns: number, rows: number) {
  const lot = random(seed);
  const next = (n: number) => Math.floor(lot.next().value * n);
  const boxes = Array.from({ length: columns * rows }, (_, i) =>
    box(`p${i}`, 176 * (i % columns) + 8 * next(3), 136 * Math.floor(i / columns) + 8 * next(3)),
  );
  const inputs = new Set<number>();
  const requests: Request[] = [];
  for (let i = 0; i < boxes.length; i++) {
    const [a, b] = [next(boxes.length), next(boxes.length)];
    // An input takes one wire.
    if (a === b || inputs.has(b)) continue;
    inputs.add(b);
    requests.push(wire(`w${i}`, boxes[a] as Obstacle, boxes[b] as Obstacle, `n${a}`));
  }
  return { boxes, requests };
}
