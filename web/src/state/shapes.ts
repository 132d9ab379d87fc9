import type { Schemas } from "../api/client";
import { newId, pointer, type Operation } from "./document";
import { edit, here } from "./model";
import { useBench, type BenchState } from "./bench";

/** Shapes that parts carry in the scene, as edits. */

export type Shape = Schemas["ShapeNode"];
export type ShapeKind = Shape["kind"];

/** Whether something in the model can be seen moving. */
export const carriesShapes = (s: BenchState): boolean =>
  Object.values(s.model.definitions).some(
    (d) => d.kind === "diagram" && Object.values(d.parts).some((p) => s.catalog.get(p.type)?.traits.shapes),
  );

const none: readonly Schemas["SceneViewNode"][] = [];

/** Views that are kept with the first scene on a sheet of plots. */
export const firstViews = (s: BenchState): readonly Schemas["SceneViewNode"][] =>
  Object.values(s.model.plotSheets)
    .flatMap((sheet) => Object.values(sheet.tiles))
    .find((t) => t.kind === "scene")?.views ?? none;

const cube = { x: 1, y: 1, z: 1 };
const zero = { x: 0, y: 0, z: 0 };

/** A shape of a kind as it is first placed: about a metre large. */
export function freshShape(kind: ShapeKind, order: number): Shape {
  const plain: Shape = { kind, ink: "face", order, at: zero, turn: zero, size: cube, measure: 0.1, outline: [] };
  switch (kind) {
    case "cylinder":
    case "cone":
      return { ...plain, size: { x: 0.5, y: 0.5, z: 1 } };
    case "extrusion":
      return {
        ...plain,
        size: { x: 1, y: 1, z: 0.2 },
        outline: [
          { x: 0, y: 0 },
          { x: 1, y: 0 },
          { x: 0.5, y: 0.8 },
        ],
      };
    case "tube":
      return { ...plain, size: { x: 1, y: 0, z: 0 } };
    case "text":
      return { ...plain, size: { x: 1, y: 0.2, z: 1 }, text: "Text" };
    case "mesh":
      return { ...plain, measure: 1 };
    default:
      return { ...plain, size: { x: 1, y: 0.2, z: 0.2 } };
  }
}

/** Shapes in their order. */
export const inOrder = (shapes: Readonly<Record<string, Shape>> | undefined): [string, Shape][] =>
  Object.entries(shapes ?? {}).sort(([, a], [, b]) => a.order - b.order);

const shapesOf = (part: string) => inOrder(useBench.getState().diagram.parts[part]?.shapes);

/** Operations that give a part one more shape. */
export function adding(part: string, id: string, shape: Shape): Operation[] {
  const has = useBench.getState().diagram.parts[part]?.shapes !== undefined;
  return [
    has
      ? { op: "add", path: here("parts", part, "shapes", id), value: shape }
      : { op: "add", path: here("parts", part, "shapes"), value: { [id]: shape } },
  ];
}

/** @returns The id of the new shape. */
export function addShape(part: string, kind: ShapeKind, more: Partial<Shape> = {}): string {
  const id = newId("s");
  const order = Math.max(0, ...shapesOf(part).map(([, s]) => s.order)) + 1;
  edit("Add a shape", adding(part, id, { ...freshShape(kind, order), ...more }));
  return id;
}

/** Sets members of a shape; one without a value goes. */
export function setShape(part: string, id: string, values: Partial<Shape>): void {
  const path = here("parts", part, "shapes", id);
  edit(
    "Change a shape",
    Object.entries(values).map(([key, value]) =>
      value === undefined ? { op: "remove", path: path + pointer(key) } : { op: "add", path: path + pointer(key), value },
    ),
  );
}

/** Takes a shape away; without any, the part shows the simple shape of its kind again. */
export function removeShape(part: string, id: string): void {
  const last = shapesOf(part).length === 1;
  edit("Remove a shape", [{ op: "remove", path: last ? here("parts", part, "shapes") : here("parts", part, "shapes", id) }]);
}

/** Corners as they are written: x y; x y; … Null where they are no three points. */
export function cornersOf(text: string): { x: number; y: number }[] | null {
  const points = text.split(";").map((p) =>
    p
      .trim()
      .split(/[\s,]+/)
      .map(Number),
  );
  return points.length >= 3 && points.every((p) => p.length === 2 && p.every(Number.isFinite))
    ? points.map(([x, y]) => ({ x: x as number, y: y as number }))
    : null;
}
