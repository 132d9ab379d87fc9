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

/** The fewest sides whose edges count as round, and the most that are of use. */
const LEAST_SIDES = 16,
  MOST_SIDES = 48;

/** How many dots wide a picture of the whole scene may be before round things are off their circle by a quarter of a dot. */
const DOTS = 3200;

/**
 * Sides of a round thing in a scene of an extent: drawing costs by the triangle where no graphics hardware draws. A polygon of n sides
 * lies inside its circle by r (1 − cos π/n), about r (π/n)²/2.
 */
export const sidesOf = (radius: number, extent: number) =>
  Math.min(MOST_SIDES, Math.max(LEAST_SIDES, Math.ceil(Math.PI * Math.sqrt((2 * DOTS * radius) / extent))));

/** Makes a round thing of a radius, with or without its ends. */
export type Turned = (radius: number, sides: number, isOpen: boolean) => BufferGeometry;

/** A round thing with its rim: seen from behind, a little wider, in ink, so that its sides have edges from everywhere. */
export function round(make: Turned, radius: number, extent: number, ink: Ink, face: Face): Group {
  const sides = sidesOf(radius, extent);
  const group = solid(make(radius, sides, false), ink, face);
  const rim = new MeshBasicMaterial({ color: ink.edge, side: BackSide });
  const behind = new Mesh(make(RIM * radius, sides, true), rim);
  behind.userData["rim"] = true;
  group.add(behind);
  return group;
}
