/** What stands in a scene, and how it is placed at an instant. Kinds are those that parts declare. */

export interface Point {
  x: number;
  y: number;
}

export interface Triple {
  x: number;
  y: number;
  z: number;
}

/** A shape that a body carries, as the model says it. */
export interface Carried {
  kind: "box" | "cylinder" | "cone" | "extrusion" | "tube" | "text" | "mesh";
  ink: "face" | "steel" | "oil" | "water" | "land" | "wood" | "signal";
  at: Triple;
  turn: Triple;
  size: Triple;
  measure: number;
  outline: readonly Point[];
  text?: string | null;
  mesh?: string | null;
}

/** A force and a torque on a body, and where they act: two signals and one in the plane, three and three in space, or none. */
export interface Load {
  x: string;
  y: string;
  z?: string | null;
  force: readonly string[];
  torque: readonly string[];
}

export interface Body {
  part: string;
  name: string;
  kind: string;
  x: string;
  y: string;
  z?: string | null;
  angle?: string | null;
  x2?: string | null;
  y2?: string | null;
  quaternion: readonly string[];
  points: readonly Point[];
  centre?: Point | null;
  size: readonly number[];
  thick: number;
  forces: readonly Load[];
  shapes: readonly Carried[];
}

/** Whether a body has a way and a name of its own. */
export const moves = (body: Body) => ["body", "space", "wheel", "frame"].includes(body.kind);

/** Whether shapes stand on a body with z upwards; in the plane they have it towards the reader. */
export const isUpright = (body: Body) => body.kind === "space" || body.kind === "frame";

/** The meshes that the bodies show, each once. */
export const meshesOf = (bodies: readonly Body[]): string[] => [
  ...new Set(bodies.flatMap((b) => b.shapes.flatMap((s) => (s.kind === "mesh" && s.mesh ? [s.mesh] : [])))),
];

const surrounds = (s: Carried) => s.ink === "water" || s.ink === "land";

/** Whether land or water is given, which a drawn ground would cut. */
export const hasSurroundings = (bodies: readonly Body[]) => bodies.some((b) => b.shapes.some(surrounds));

/** Places on a body, in its own directions, that its shapes lie about, each with how far they reach from there; land and water are its
 * surroundings and do not count. */
export function spotsOf(body: Body): { at: Triple; around: number }[] {
  return body.shapes
    .filter((s) => !surrounds(s) && s.kind !== "mesh")
    .flatMap((s) => {
      if (s.kind === "tube") return [s.at, s.size].map((at) => ({ at, around: s.measure / 2 }));
      if (s.kind === "extrusion")
        return s.outline.map(({ x, y }) => ({ at: { x: s.at.x + x, y: s.at.y + y, z: s.at.z }, around: s.size.z / 2 }));
      return [{ at: s.at, around: Math.max(s.size.x, s.size.y, s.size.z) / 2 }];
    });
}

/** How far a body reaches from its first point. */
export const reachOf = (body: Body): number =>
  Math.max(
    0,
    ...spotsOf(body).map(({ at, around }) => Math.hypot(at.x, at.y, at.z) + around),
    ...body.size,
    ...body.points.map((p) => Math.hypot(p.x, p.y)),
  );

/** All signals that the bodies move by, each once. */
export function signalsOf(bodies: readonly Body[]): string[] {
  const found = new Set<string>();
  for (const b of bodies) {
    for (const s of [b.x, b.y, b.z, b.angle, b.x2, b.y2, ...b.quaternion]) if (s) found.add(s);
    for (const f of b.forces) for (const s of [f.x, f.y, f.z, ...f.force, ...f.torque]) if (s) found.add(s);
  }
  return [...found];
}

/** Names of bodies whose places a run does not have: they would be drawn where they are not. */
export const notKept = (bodies: readonly Body[], series: ReadonlyMap<string, { times: ArrayLike<number> }>): string[] =>
  bodies
    .filter((b) => [b.x, b.y, b.z, b.angle, b.x2, b.y2, ...b.quaternion].some((s) => s && !series.get(s)?.times.length))
    .map((b) => b.name);

export type Read = (signal: string) => number;

/** A number to draw with: what is not known yet stands at nothing. */
const finite = (v: number) => (Number.isFinite(v) ? v : 0);

/** Where a body is: its place and its turn as a quaternion x, y, z, w, in the directions of the picture (y up, z towards the reader). */
export interface Pose {
  position: readonly [number, number, number];
  rotation: readonly [number, number, number, number];
}

export function poseOf(body: Body, read: Read): Pose {
  const at = (s: string | null | undefined) => (s ? finite(read(s)) : 0);
  if (body.quaternion.length === 4) {
    // z is up in space, y in the picture: (x, y, z) becomes (x, z, −y), and so do the parts of the quaternion.
    const [w, x, y, z] = body.quaternion.map((s) => at(s)) as [number, number, number, number];
    const size = Math.hypot(w, x, y, z);
    const rotation: Pose["rotation"] = size > 0 ? [x / size, z / size, -y / size, w / size] : [0, 0, 0, 1];
    return { position: [at(body.x), at(body.z), -at(body.y)], rotation };
  }
  const half = at(body.angle) / 2;
  return { position: [at(body.x), at(body.y), 0], rotation: [0, 0, Math.sin(half), Math.cos(half)] };
}

/** Both ends of what lies between two points, in the plane. */
export const endsOf = (body: Body, read: Read): readonly [Point, Point] => [
  { x: finite(read(body.x)), y: finite(read(body.y)) },
  { x: finite(read(body.x2 ?? body.x)), y: finite(read(body.y2 ?? body.y)) },
];

export interface Box {
  least: [number, number, number];
  most: [number, number, number];
}

/** A point of a body in the directions of the picture: turned by its quaternion, and moved. */
function turned({ x, y, z }: Triple, position: Pose["position"], [qx, qy, qz, w]: Pose["rotation"], upright: boolean): number[] {
  const [a, b, c] = upright ? [x, z, -y] : [x, y, z];
  const [tx, ty, tz] = [2 * (qy * c - qz * b), 2 * (qz * a - qx * c), 2 * (qx * b - qy * a)];
  return [
    position[0] + a + w * tx + qy * tz - qz * ty,
    position[1] + b + w * ty + qz * tx - qx * tz,
    position[2] + c + w * tz + qx * ty - qy * tx,
  ];
}

/** The body whose place changes most over the given instants; none where nothing moves. */
export function farthest(bodies: readonly Body[], reads: readonly Read[]): Body | undefined {
  const [first] = reads;
  if (!first) return undefined;
  const way = (b: Body) => {
    const from = poseOf(b, first).position;
    return Math.max(...reads.map((r) => Math.hypot(...poseOf(b, r).position.map((p, k) => p - (from[k] as number)))));
  };
  const ways = bodies.filter(moves).map((body) => ({ body, way: way(body) }));
  return ways.reduce<{ body?: Body; way: number }>((best, one) => (one.way > best.way ? one : best), { way: 0 }).body;
}

/** The space that bodies pass through at the given instants, never smaller than half a metre. */
export function spaceOf(bodies: readonly Body[], reads: readonly Read[]): Box {
  const least: Box["least"] = [Infinity, Infinity, Infinity];
  const most: Box["most"] = [-Infinity, -Infinity, -Infinity];
  const take = (p: readonly number[], around: number) => {
    for (let k = 0; k < 3; k++) {
      least[k] = Math.min(least[k] as number, (p[k] as number) - around);
      most[k] = Math.max(most[k] as number, (p[k] as number) + around);
    }
  };
  for (const read of reads)
    for (const b of bodies) {
      const { position, rotation } = poseOf(b, read);
      const around = b.size.length > 0 ? Math.max(...b.size) : b.thick / 2;
      for (const spot of spotsOf(b)) take(turned(spot.at, position, rotation, isUpright(b)), spot.around);
      take(position, around);
      const [c, s] = [1 - 2 * (rotation[2] * rotation[2]), 2 * rotation[2] * rotation[3]];
      for (const p of b.points) take([position[0] + c * p.x - s * p.y, position[1] + s * p.x + c * p.y, position[2]], around);
    }
  if (!Number.isFinite(least[0])) return { least: [-1, -1, -1], most: [1, 1, 1] };
  for (let k = 0; k < 3; k++) {
    const lack = 0.5 - ((most[k] as number) - (least[k] as number));
    if (lack > 0) take([k === 0 ? most[0] + lack : most[0], k === 1 ? most[1] + lack : most[1], k === 2 ? most[2] + lack : most[2]], 0);
  }
  return { least, most };
}
