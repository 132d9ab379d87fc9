import {
  BoxGeometry,
  BufferAttribute,
  BufferGeometry,
  CanvasTexture,
  Color,
  ConeGeometry,
  CylinderGeometry,
  DoubleSide,
  EdgesGeometry,
  ExtrudeGeometry,
  Group,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  MeshLambertMaterial,
  Object3D,
  PlaneGeometry,
  Shape,
  Vector3,
} from "three";
import type { Carried, Triple } from "./bodies";
import { SHARP, type Ink } from "./shapes";

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
      return { color: mixed(ink.water, 0.3), opacity: 0.72 };
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

function geometryOf(shape: Carried, meshes: Meshes): BufferGeometry | null {
  const { size } = shape;
  switch (shape.kind) {
    case "box":
      return new BoxGeometry(size.x, size.y, size.z);
    case "cylinder":
      return upright(new CylinderGeometry(size.x / 2, size.x / 2, size.z, 32));
    case "cone":
      return upright(new ConeGeometry(size.x / 2, size.z, 32));
    case "extrusion":
      return outlined(shape);
    case "tube": {
      const way = vector(size).sub(vector(shape.at));
      return upright(new CylinderGeometry(shape.measure / 2, shape.measure / 2, Math.max(1e-9, way.length()), 20));
    }
    case "mesh":
      return meshes.get(shape.mesh ?? "")?.clone() ?? null;
    default:
      return null;
  }
}

const vector = ({ x, y, z }: Triple) => new Vector3(x, y, z);

function solid(shape: Carried, geometry: BufferGeometry, ink: Ink): Group {
  const group = new Group();
  const { color, opacity } = inkOf(shape.ink, ink);
  const look = { color, opacity, transparent: opacity < 1, polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 };
  const count = (geometry.index?.count ?? geometry.getAttribute("position").count) / 3;
  if (count > DRAWN) {
    group.add(new Mesh(geometry, new MeshLambertMaterial({ ...look, side: DoubleSide, flatShading: true })));
    return group;
  }
  group.add(new Mesh(geometry, new MeshBasicMaterial({ ...look, side: DoubleSide })));
  group.add(new LineSegments(new EdgesGeometry(geometry, SHARP), new LineBasicMaterial({ color: ink.edge })));
  return group;
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

/** One shape where it stands on its body; nothing for a mesh that is not there. */
export function carriedOf(shape: Carried, ink: Ink, meshes: Meshes): Object3D | null {
  if (shape.kind === "text") return placed(written(shape, ink), shape);
  const geometry = geometryOf(shape, meshes);
  if (!geometry) return null;
  const group = solid(shape, geometry, ink);
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
