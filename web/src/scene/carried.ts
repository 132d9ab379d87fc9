import {
  BoxGeometry,
  BufferAttribute,
  BufferGeometry,
  CanvasTexture,
  Color,
  ConeGeometry,
  CylinderGeometry,
  DoubleSide,
  ExtrudeGeometry,
  Group,
  Mesh,
  MeshBasicMaterial,
  MeshLambertMaterial,
  Object3D,
  PlaneGeometry,
  Shape,
  Vector3,
} from "three";
import type { Carried, Triple } from "./bodies";
import { chartOf } from "./chart";
import { round, solid, type Face, type Ink, type Turned } from "./drawn";

/** Shapes that bodies carry, in the directions of the body: as the model gives them. */

/** Triangles of meshes by their hash. */
export type Meshes = ReadonlyMap<string, BufferGeometry>;

/** With more triangles than this, edges are shown by light and not by lines. */
const DRAWN = 20000;

const RAD = Math.PI / 180;

/** The colour of what a shape stands for: paper with a share of a colour of the harbour chart. */
export function inkOf(kind: Carried["ink"], ink: Ink): { color: Color; opacity: number } {
  const mixed = (color: string, share: number) => new Color(ink.face).lerp(new Color(color), share);
  switch (kind) {
    case "steel":
      return { color: mixed(ink.steel, 0.4), opacity: 1 };
    case "oil":
      return { color: mixed(ink.oil, 0.35), opacity: 1 };
    case "water":
      return { color: mixed(ink.oil, 0.16), opacity: 0.78 };
    case "land":
      return { color: new Color(ink.land), opacity: 1 };
    case "wood":
      return { color: mixed(ink.wood, 0.3), opacity: 1 };
    case "signal":
      return { color: mixed(ink.chosen, 0.45), opacity: 1 };
    default:
      return { color: new Color(ink.face), opacity: 1 };
  }
}

/** Along z, as cylinders and cones of the model are; those of the library stand along y. */
const upright = (geometry: BufferGeometry) => geometry.rotateX(Math.PI / 2);

function outlined({ outline, size }: Carried): BufferGeometry {
  const shape = new Shape();
  const [first, ...others] = outline;
  if (!first || others.length < 2) return new BoxGeometry(0, 0, 0);
  shape.moveTo(first.x, first.y);
  for (const p of others) shape.lineTo(p.x, p.y);
  shape.closePath();
  const geometry = new ExtrudeGeometry(shape, { depth: size.z, bevelEnabled: false });
  geometry.translate(0, 0, -size.z / 2);
  return geometry;
}

/** What has edges of its own; null for what has none, or is not there. */
function geometryOf(shape: Carried, meshes: Meshes): BufferGeometry | null {
  const { size } = shape;
  switch (shape.kind) {
    case "box":
      return new BoxGeometry(size.x, size.y, size.z);
    case "extrusion":
      return outlined(shape);
    case "mesh":
      return meshes.get(shape.mesh ?? "")?.clone() ?? null;
    default:
      return null;
  }
}

const vector = ({ x, y, z }: Triple) => new Vector3(x, y, z);

function drawn(geometry: BufferGeometry, ink: Ink, face: Face): Group {
  const count = (geometry.index?.count ?? geometry.getAttribute("position").count) / 3;
  if (count <= DRAWN) return solid(geometry, ink, face);
  return new Group().add(new Mesh(geometry, new MeshLambertMaterial({ color: face.color, side: DoubleSide, flatShading: true })));
}

/** What is round along z; null for other kinds. */
function roundOf(shape: Carried, ink: Ink, extent: number, face: Face): Group | null {
  const { size, kind } = shape;
  const cylinder =
    (length: number): Turned =>
    (r, sides, isOpen) =>
      upright(new CylinderGeometry(r, r, length, sides, 1, isOpen));
  const cone: Turned = (r, sides, isOpen) => upright(new ConeGeometry(r, size.z, sides, 1, isOpen));
  if (kind === "cylinder") return round(cylinder(size.z), size.x / 2, extent, ink, face);
  if (kind === "cone") return round(cone, size.x / 2, extent, ink, face);
  if (kind !== "tube") return null;
  const length = Math.max(1e-9, vector(size).distanceTo(vector(shape.at)));
  return round(cylinder(length), shape.measure / 2, extent, ink, face);
}

/** Letters drawn on a sheet without thickness; size y is their height. */
function written(shape: Carried, ink: Ink): Object3D {
  const canvas = document.createElement("canvas");
  const pen = canvas.getContext("2d");
  const text = shape.text ?? "";
  const font = `600 96px "IBM Plex Sans", sans-serif`;
  if (!pen || text === "") return new Group();
  pen.font = font;
  canvas.width = Math.max(1, Math.ceil(pen.measureText(text).width) + 8);
  canvas.height = 128;
  pen.font = font;
  pen.fillStyle = ink.edge;
  pen.textBaseline = "middle";
  pen.fillText(text, 4, 64);
  const height = (shape.size.y * canvas.height) / 96;
  const sheet = new PlaneGeometry((height * canvas.width) / canvas.height, height);
  return new Mesh(sheet, new MeshBasicMaterial({ map: new CanvasTexture(canvas), transparent: true, side: DoubleSide }));
}

/** The chart on the upper side of a box. */
function chartOn({ size }: Carried, ink: Ink, isUpright: boolean): Mesh {
  const chart = chartOf(size.x, isUpright ? size.y : size.z, ink.quiet);
  if (isUpright) chart.position.z = size.z / 2;
  else {
    chart.rotation.x = -Math.PI / 2;
    chart.position.y = size.y / 2;
  }
  return chart;
}

/** One shape where it stands on its body; nothing for a mesh that is not there. */
export function carriedOf(shape: Carried, ink: Ink, extent: number, meshes: Meshes, upright: boolean): Object3D | null {
  if (shape.kind === "text") return placed(written(shape, ink), shape);
  const face = inkOf(shape.ink, ink);
  const geometry = geometryOf(shape, meshes);
  const group = roundOf(shape, ink, extent, face) ?? (geometry && drawn(geometry, ink, face));
  if (!group) return null;
  if (shape.kind === "box" && (shape.ink === "water" || shape.ink === "land")) group.add(chartOn(shape, ink, upright));
  if (shape.kind === "tube") {
    const [from, to] = [vector(shape.at), vector(shape.size)];
    group.position.copy(from).add(to).multiplyScalar(0.5);
    group.quaternion.setFromUnitVectors(new Vector3(0, 0, 1), to.sub(from).normalize());
    return group;
  }
  if (shape.kind === "mesh") group.scale.setScalar(shape.measure);
  return placed(group, shape);
}

function placed(what: Object3D, { at, turn }: Carried): Object3D {
  what.position.set(at.x, at.y, at.z);
  what.rotation.set(turn.x * RAD, turn.y * RAD, turn.z * RAD);
  return what;
}

/** Triangles from the bytes that the server keeps: how many corners, how many triangles, places, corners of triangles. */
export function meshOf(bytes: ArrayBuffer): BufferGeometry {
  const head = new DataView(bytes);
  const [corners, triangles] = [head.getUint32(0, true), head.getUint32(4, true)];
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(new Float32Array(bytes, 8, 3 * corners), 3));
  geometry.setIndex(new BufferAttribute(new Uint32Array(bytes, 8 + 12 * corners, 3 * triangles), 1));
  return geometry;
}
