import {
  BoxGeometry,
  BufferGeometry,
  Color,
  CylinderGeometry,
  ExtrudeGeometry,
  Group,
  Line,
  LineBasicMaterial,
  LineSegments,
  Path,
  Shape,
  Vector3,
} from "three";
import { isUpright, type Body, type Point } from "./bodies";
import { carriedOf, type Meshes } from "./carried";
import { round, sidesOf, solid, type Ink } from "./drawn";

/** The outline of a bar with round ends about two points. */
function bar(a: Point, b: Point, r: number): Shape {
  const angle = Math.atan2(b.y - a.y, b.x - a.x);
  const shape = new Shape();
  shape.absarc(b.x, b.y, r, angle - Math.PI / 2, angle + Math.PI / 2, false);
  shape.absarc(a.x, a.y, r, angle + Math.PI / 2, angle + (3 * Math.PI) / 2, false);
  shape.closePath();
  for (const p of [a, b]) {
    const hole = new Path();
    hole.absarc(p.x, p.y, r * 0.35, 0, 2 * Math.PI, true);
    shape.holes.push(hole);
  }
  return shape;
}

function plate(shape: Shape, depth: number): BufferGeometry {
  const geometry = new ExtrudeGeometry(shape, { depth, bevelEnabled: false, curveSegments: 10 });
  geometry.translate(0, 0, -depth / 2);
  return geometry;
}

/** A tube along x from 0 to 1, to be stretched. */
function tube(radius: number, sides: number, isOpen: boolean): BufferGeometry {
  const geometry = new CylinderGeometry(radius, radius, 1, sides, 1, isOpen);
  geometry.rotateZ(-Math.PI / 2);
  geometry.translate(0.5, 0, 0);
  return geometry;
}

/** What a body looks like before it has a shape of its own, in its own directions. */
export function shapeOf(body: Body, ink: Ink, extent: number, meshes: Meshes): Group {
  const small = extent / 60;
  const group = new Group();
  if (body.shapes.length > 0) {
    const carried = new Group();
    if (isUpright(body)) carried.rotation.x = -Math.PI / 2;
    for (const shape of body.shapes) {
      const made = carriedOf(shape, ink, extent, meshes, isUpright(body));
      if (made) carried.add(made);
    }
    return group.add(carried);
  }
  switch (body.kind) {
    case "body": {
      const r = Math.max(body.thick / 2, 1e-3);
      const [first, ...others] = body.points as [Point, ...Point[]];
      const ends = others.length > 0 ? others : body.centre && Math.hypot(body.centre.x, body.centre.y) > 1e-6 ? [body.centre] : [];
      for (const end of ends) group.add(solid(plate(bar(first, end, r), body.thick), ink));
      if (ends.length === 0) group.add(solid(new BoxGeometry(2 * r, 2 * r, 2 * r), ink));
      return group;
    }
    case "space": {
      const [x = 1, y = 1, z = 1] = body.size;
      group.add(solid(new BoxGeometry(x, z, y), ink));
      return group;
    }
    case "wheel": {
      const r = body.size[0] ?? small;
      const rim = new CylinderGeometry(r, r, r / 2, 32);
      rim.rotateX(Math.PI / 2);
      group.add(solid(rim, ink));
      const spoke = new BufferGeometry().setFromPoints([new Vector3(0, 0, r / 3.9), new Vector3(r, 0, r / 3.9)]);
      group.add(new Line(spoke, new LineBasicMaterial({ color: ink.edge })));
      return group;
    }
    case "frame": {
      const l = extent / 20;
      const axes = [new Vector3(), new Vector3(l, 0, 0), new Vector3(), new Vector3(0, l, 0), new Vector3(), new Vector3(0, 0, -l)];
      return group.add(new LineSegments(new BufferGeometry().setFromPoints(axes), new LineBasicMaterial({ color: ink.edge })));
    }
    case "pin": {
      const pin = new CylinderGeometry(small * 0.6, small * 0.6, small * 3, 16);
      pin.rotateX(Math.PI / 2);
      group.add(solid(pin, ink, { color: ink.edge }));
      return group;
    }
    case "ground": {
      const foot = new Shape();
      foot.moveTo(0, 0);
      foot.lineTo(-small * 1.4, -small * 2);
      foot.lineTo(small * 1.4, -small * 2);
      foot.closePath();
      group.add(solid(plate(foot, small * 2), ink, { color: ink.quiet }));
      return group;
    }
    default:
      return group;
  }
}

/** Whether a body lies between two points and is stretched from one to the other. */
export const isBetween = (body: Body) => ["slide", "link", "rope", "strut"].includes(body.kind);

/** What lies between two points, along x from 0 to 1; a strut is its housing and its rod. */
export function betweenOf(body: Body, ink: Ink, extent: number): Group {
  const small = extent / 60;
  if (body.kind === "strut") {
    const group = new Group();
    const housing = round(tube, small * 0.8, extent, ink, { color: new Color(ink.face).lerp(new Color(ink.oil), 0.35) });
    housing.name = "housing";
    const rod = round(tube, small * 0.4, extent, ink, { color: ink.quiet });
    rod.name = "rod";
    group.add(housing, rod);
    return group;
  }
  if (body.kind === "rope") return solid(tube(small * 0.15, sidesOf(small * 0.15, extent), false), ink, { color: ink.edge });
  return round(tube, small * 0.35, extent, ink, { color: ink.quiet });
}
