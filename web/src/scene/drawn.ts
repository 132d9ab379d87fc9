import {
  BackSide,
  BufferGeometry,
  type ColorRepresentation,
  EdgesGeometry,
  Group,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
} from "three";

/** Shapes of bodies: light faces with drawn edges, as on the diagram. */

export interface Ink {
  face: string;
  edge: string;
  chosen: string;
  quiet: string;
  steel: string;
  oil: string;
  water: string;
  land: string;
  wood: string;
}

/** Edges sharper than this many degrees are drawn. */
const SHARP = 30;

export interface Face {
  color: ColorRepresentation;
  opacity?: number;
}

export function solid(geometry: BufferGeometry, ink: Ink, { color, opacity = 1 }: Face = { color: ink.face }): Group {
  const group = new Group();
  // Faces lie a little behind their own edges.
  const behind = { polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 };
  group.add(new Mesh(geometry, new MeshBasicMaterial({ color, opacity, transparent: opacity < 1, ...behind })));
  group.add(new LineSegments(new EdgesGeometry(geometry, SHARP), new LineBasicMaterial({ color: ink.edge })));
  return group;
}

/** How much wider than a round thing its drawn rim is. */
const RIM = 1.06;

/** A round thing with its rim: seen from behind, a little wider, in ink, so that its sides have edges from everywhere. */
export function round(make: (radius: number) => BufferGeometry, radius: number, ink: Ink, face: Face): Group {
  const group = solid(make(radius), ink, face);
  const rim = new MeshBasicMaterial({ color: ink.edge, side: BackSide });
  const behind = new Mesh(make(RIM * radius), rim);
  behind.userData["rim"] = true;
  group.add(behind);
  return group;
}
