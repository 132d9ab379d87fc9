import { poseOf, type Body, type Load, type Read } from "./bodies";

/** Forces and torques on bodies in the directions of the picture: where they act, and which way. */

export type Arrow = readonly [number, number, number];

const finite = (v: number) => (Number.isFinite(v) ? v : 0);

/** z is up in space, y in the picture. */
const raised = ([x, y, z]: Arrow): Arrow => [x, z, -y];

/** Where a load acts. */
export function placeOf(load: Load, read: Read): Arrow {
  const [x, y, z] = [load.x, load.y, load.z].map((s) => (s ? finite(read(s)) : 0)) as [number, number, number];
  return load.z ? raised([x, y, z]) : [x, y, 0];
}

/** Its force, N. */
export function forceOf(load: Load, read: Read): Arrow {
  const [x = 0, y = 0, z = 0] = load.force.map((s) => finite(read(s)));
  return load.force.length === 3 ? raised([x, y, z]) : [x, y, 0];
}

/** Its torque about the axis that it points along, N·m. */
export function torqueOf(load: Load, body: Body, read: Read): Arrow {
  const parts = load.torque.map((s) => finite(read(s)));
  if (parts.length < 3) return [0, 0, parts[0] ?? 0];
  const [x, y, z] = raised(parts as unknown as Arrow);
  const [qx, qy, qz, w] = poseOf(body, read).rotation;
  const [tx, ty, tz] = [2 * (qy * z - qz * y), 2 * (qz * x - qx * z), 2 * (qx * y - qy * x)];
  return [x + w * tx + qy * tz - qz * ty, y + w * ty + qz * tx - qx * tz, z + w * tz + qx * ty - qy * tx];
}

const sizeOf = (arrow: Arrow) => Math.hypot(...arrow);

/** The largest force and the largest torque at the given instants, N and N·m. */
export function largestOf(bodies: readonly Body[], reads: readonly Read[]): { force: number; torque: number } {
  const all = bodies.flatMap((body) => body.forces.map((load) => ({ body, load })));
  const most = (size: (one: (typeof all)[number], read: Read) => number) =>
    reads.reduce((most, read) => all.reduce((m, one) => Math.max(m, size(one, read)), most), 0);
  return {
    force: most(({ load }, read) => sizeOf(forceOf(load, read))),
    torque: most(({ load, body }, read) => sizeOf(torqueOf(load, body, read))),
  };
}

const prefixes = [
  { from: 1e6, sign: "M" },
  { from: 1e3, sign: "k" },
  { from: 1, sign: "" },
  { from: 0, sign: "m", by: 1e-3 },
];

/** A size in words: three digits, with the prefix that fits. */
export function sizeText(size: number, unit: string): string {
  const { from, sign, by } = prefixes.find((p) => size >= p.from) ?? { from: 1, sign: "", by: 1 };
  return `${Number((size / (by ?? from)).toPrecision(3))} ${sign}${unit}`;
}
