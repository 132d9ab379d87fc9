import { Box3, BufferGeometry, Group, Mesh } from "three";
import { describe, expect, it } from "vitest";
import { ink } from "./testInk";
import { farthest, hasSurroundings, reachOf, spaceOf, type Carried } from "./bodies";
import { apartOf } from "./chart";
import { carriedOf, inkOf, meshOf } from "./carried";

const plain: Carried = {
  kind: "box",
  ink: "face",
  at: { x: 0, y: 0, z: 0 },
  turn: { x: 0, y: 0, z: 0 },
  size: { x: 1, y: 1, z: 1 },
  measure: 1,
  outline: [],
};
const none = new Map<string, BufferGeometry>();

/** The space that a shape fills. */
function space(shape: Carried, meshes = none) {
  const made = carriedOf(shape, ink, 10, meshes, false);
  if (!made) throw new Error("There is no shape.");
  const group = new Group().add(made);
  group.updateMatrixWorld(true);
  const box = new Box3().setFromObject(group);
  return [box.min, box.max].map((v) => [v.x, v.y, v.z].map((c) => Math.round(c * 1000) / 1000 + 0));
}

describe("shapes that bodies carry", () => {
  it("stand about their middle", () => {
    expect(space({ ...plain, at: { x: 1, y: 2, z: 3 }, size: { x: 2, y: 4, z: 6 } })).toEqual([
      [0, 0, 0],
      [2, 4, 6],
    ]);
  });

  it("are turned by degrees about their axes", () => {
    expect(space({ ...plain, size: { x: 4, y: 1, z: 1 }, turn: { x: 0, y: 0, z: 90 } })).toEqual([
      [-0.5, -2, -0.5],
      [0.5, 2, 0.5],
    ]);
  });

  it("lie along z as cylinders and cones, and between two points as tubes", () => {
    expect(space({ ...plain, kind: "cylinder", size: { x: 1, y: 1, z: 4 } })).toEqual([
      [-0.53, -0.53, -2],
      [0.53, 0.53, 2],
    ]);
    const tube = space({ ...plain, kind: "tube", at: { x: 1, y: 0, z: 0 }, size: { x: 5, y: 0, z: 0 }, measure: 0.2 });
    expect(tube[0]?.[0]).toBeCloseTo(1);
    expect(tube[1]?.[0]).toBeCloseTo(5);
    expect(tube[1]?.[2]).toBeCloseTo(0.106);
  });

  it("draw an outline out to both sides of its plane", () => {
    const outline = [
      { x: 0, y: 0 },
      { x: 3, y: 0 },
      { x: 0, y: 1 },
    ];
    expect(space({ ...plain, kind: "extrusion", outline, size: { x: 1, y: 1, z: 0.5 } })).toEqual([
      [0, 0, -0.25],
      [3, 1, 0.25],
    ]);
    expect(space({ ...plain, kind: "extrusion", outline: outline.slice(1) })).toEqual([
      [0, 0, 0],
      [0, 0, 0],
    ]);
  });

  it("come from a mesh where it is there, at its scale", () => {
    const bytes = new ArrayBuffer(8 + 12 * 3 + 12);
    const view = new DataView(bytes);
    view.setUint32(0, 3, true);
    view.setUint32(4, 1, true);
    [0, 0, 0, 10, 0, 0, 0, 20, 0].forEach((v, i) => view.setFloat32(8 + 4 * i, v, true));
    [0, 1, 2].forEach((v, i) => view.setUint32(44 + 4 * i, v, true));
    const meshes = new Map([["m", meshOf(bytes)]]);
    const shape: Carried = { ...plain, kind: "mesh", mesh: "m", measure: 0.1 };
    expect(space(shape, meshes)).toEqual([
      [0, 0, 0],
      [1, 2, 0],
    ]);
    expect(carriedOf({ ...shape, mesh: "another" }, ink, 10, meshes, false)).toBeNull();
  });

  it("show what they stand for, and water lets what is behind it through", () => {
    const made = carriedOf({ ...plain, ink: "water", size: { x: 1000, y: 1, z: 10 } }, ink, 10, none, false) as Group;
    const faces = made.children.find((c) => c instanceof Mesh) as Mesh;
    expect(faces.material).toMatchObject({ transparent: true });
    // Over a kilometre lines 5 m apart, on the face upwards.
    const chart = made.children.at(-1) as Mesh;
    made.updateMatrixWorld(true);
    const { min, max } = new Box3().setFromObject(chart);
    expect([min.y, max.y]).toEqual([expect.closeTo(0.5), expect.closeTo(0.5)]);
    expect([apartOf(1000, 10), apartOf(40, 12), apartOf(1500, 1500), apartOf(1e5, 1)]).toEqual([5, 1, 10, 500]);
    expect(inkOf("signal", ink).color.r).toBeGreaterThan(inkOf("signal", ink).color.b);
  });

  it("reach as far as what is built; land and water do not count", () => {
    const body = { part: "b", name: "", kind: "ground", x: "", y: "", quaternion: [], points: [], size: [], thick: 0, forces: [] };
    const box: Carried = { ...plain, at: { x: 3, y: 0, z: 0 }, size: { x: 2, y: 0, z: 0 } };
    expect(reachOf({ ...body, shapes: [box] })).toBe(4);
    expect(reachOf({ ...body, shapes: [{ ...box, ink: "water", size: { x: 1000, y: 1000, z: 1 } }] })).toBe(0);
    expect(reachOf({ ...body, shapes: [] })).toBe(0);
    expect(hasSurroundings([{ ...body, shapes: [box] }])).toBe(false);
  });

  it("belong to the space that the scene shows, turned as their body is", () => {
    const values: Record<string, number> = { x: 10, y: 0, z: 5, q1: Math.SQRT1_2, q4: Math.SQRT1_2 };
    const read = (signal: string) => values[signal] ?? 0;
    // Turned a quarter about the axis upwards, what lies ahead lies to the left, which is away from the reader.
    const tube: Carried = { ...plain, kind: "tube", size: { x: 4, y: 0, z: 0 }, measure: 0 };
    const frame = { part: "f", name: "", kind: "frame", x: "x", y: "y", z: "z", points: [], size: [], thick: 0, forces: [] };
    const { least, most } = spaceOf([{ ...frame, quaternion: ["q1", "q2", "q3", "q4"], shapes: [tube] }], [read]);
    expect(least[2]).toBeCloseTo(-4);
    expect(most[2]).toBeCloseTo(0);
    expect(least[1]).toBeCloseTo(5);
  });

  it("are followed where they go farthest", () => {
    const body = { name: "", kind: "frame", y: "none", quaternion: [], points: [], size: [], thick: 0, forces: [], shapes: [] };
    const [near, far] = [
      { ...body, part: "near", x: "a" },
      { ...body, part: "far", x: "b" },
    ];
    const at = (t: number) => (signal: string) => (signal === "a" ? t : signal === "b" ? -3 * t : 0);
    expect(farthest([near, far], [at(0), at(1), at(2)])?.part).toBe("far");
    expect(farthest([near, far], [at(1)])).toBeUndefined();
  });
});
