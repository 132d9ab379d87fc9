import type { PartView } from "../web/src/api/client";
import { RouteCache } from "../web/src/canvas/routes";
import type {
  Diagram,
  PartNode,
  Point,
  WireNode,
} from "../web/src/state/document";

/** Numbers that are the same every time (Park and Miller's generator). */
let state = 7;
const next = (n: number) => {
  state = (state * 48271) % 2147483647;
  return Math.floor((state / 2147483647) * n);
};

const port = (name: string, isInput: boolean) => ({
  name,
  isInput,
  side: isInput ? "left" : "right",
});
const WIDTH = 64;
const HEIGHT = 48;
const view = {
  width: WIDTH,
  height: HEIGHT,
  shape: "plate",
  ports: [port("u", true), port("v", true), port("y", false)],
} as unknown as PartView;

/** Parts in rows and columns, not quite straight; nine wires of ten go to a neighbour, the others anywhere. */
function level(count: number): {
  plan: Diagram;
  views: Record<string, PartView>;
} {
  const side = Math.ceil(Math.sqrt(count));
  const parts: Record<string, PartNode> = {};
  for (let i = 0; i < count; i++) {
    const [x, y] = [
      176 * (i % side) + 8 * next(3),
      136 * Math.floor(i / side) + 8 * next(3),
    ];
    parts[`p${i}`] = {
      type: "T",
      name: `p${i}`,
      x,
      y,
      flip: false,
      turn: 0,
      parameters: {},
    };
  }
  const wires: Record<string, WireNode> = {};
  const taken = new Set<string>();
  for (let i = 0; Object.keys(wires).length < count && i < 3 * count; i++) {
    const a = next(count);
    const steps = [1, -1, side, -side, side + 1, 2];
    const b =
      next(10) > 0
        ? Math.min(
            count - 1,
            Math.max(0, a + (steps[next(steps.length)] as number)),
          )
        : next(count);
    const input = next(2) ? "u" : "v";
    if (a === b || taken.has(`${b}${input}`)) continue;
    taken.add(`${b}${input}`);
    wires[`w${i}`] = {
      from: { part: `p${a}`, port: "y" },
      to: { part: `p${b}`, port: input },
      bends: [],
    };
  }
  return {
    plan: { parts, wires } as unknown as Diagram,
    views: Object.fromEntries(Object.keys(parts).map((id) => [id, view])),
  };
}

const runsThrough = (points: readonly Point[], { x, y }: PartNode) =>
  points.some((p, i) => {
    const q = points[i - 1];
    return (
      !!q &&
      Math.max(p.x, q.x) > x &&
      Math.min(p.x, q.x) < x + WIDTH &&
      Math.max(p.y, q.y) > y &&
      Math.min(p.y, q.y) < y + HEIGHT
    );
  });

function lieOnEachOther(a: readonly Point[], b: readonly Point[]): boolean {
  for (let i = 1; i < a.length; i++)
    for (let j = 1; j < b.length; j++)
      for (const [along, across] of [
        ["x", "y"] as const,
        ["y", "x"] as const,
      ]) {
        const [p, q, r, s] = [a[i - 1], a[i], b[j - 1], b[j]] as [
          Point,
          Point,
          Point,
          Point,
        ];
        if (
          p[across] !== q[across] ||
          r[across] !== s[across] ||
          p[across] !== r[across]
        )
          continue;
        const low = Math.max(
          Math.min(p[along], q[along]),
          Math.min(r[along], s[along]),
        );
        if (
          Math.min(Math.max(p[along], q[along]), Math.max(r[along], s[along])) >
          low
        )
          return true;
      }
  return false;
}

for (const count of [500, 1000]) {
  const { plan, views } = level(count);
  const cache = new RouteCache();
  const begun = performance.now();
  const all = cache.routes(plan, views, null);
  const whole = performance.now() - begun;
  const wires = Object.entries(plan.wires);
  const ownOf = (id: string) =>
    wires.filter(([, w]) => w.from.part === id || w.to.part === id).length;
  const dragged = Object.keys(plan.parts).reduce((a, b) =>
    ownOf(b) > ownOf(a) ? b : a,
  );
  const frames: number[] = [];
  const changed: number[] = [];
  for (let i = 1; i <= 40; i++) {
    const at = performance.now();
    const now = cache.routes(plan, views, {
      ids: new Set([dragged]),
      dx: 8 * i,
      dy: 4 * i,
    });
    frames.push(performance.now() - at);
    changed.push(
      [...now].filter(([id, points]) => points !== all.get(id)).length,
    );
  }
  frames.sort((a, b) => a - b);
  const parts = Object.values(plan.parts);
  const through = wires.filter(([id]) =>
    parts.some((p) => runsThrough(all.get(id) as Point[], p)),
  ).length;
  let on = 0;
  for (let i = 0; i < wires.length; i++)
    for (let j = i + 1; j < wires.length; j++) {
      const [[a, v], [b, w]] = [wires[i], wires[j]] as [
        [string, WireNode],
        [string, WireNode],
      ];
      if (
        v.from.part !== w.from.part &&
        lieOnEachOther(all.get(a) as Point[], all.get(b) as Point[])
      )
        on++;
    }
  console.log(
    `${wires.length} wires: all ${whole.toFixed(0)} ms; a frame of a drag ${frames[20]?.toFixed(1)} ms, worst ${frames[39]?.toFixed(1)} ms, ` +
      `${Math.max(...changed)} of them changed at most, ${ownOf(dragged)} are the part's own; ${through} through a part, ${on} pairs on each other`,
  );
}
