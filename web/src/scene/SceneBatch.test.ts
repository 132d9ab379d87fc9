import { BoxGeometry, Group, LineSegments, Mesh, MeshBasicMaterial, Raycaster, Scene, SphereGeometry, Vector3 } from "three";
import { describe, expect, it } from "vitest";
import { ink } from "./testInk";
import { round, solid, sidesOf } from "./drawn";
import { SceneBatch } from "./SceneBatch";

/** Two cubes of one metre, and what draws them; one of them is moved by hand. */
function cubes() {
  const scene = new Scene();
  const bodies = [0, 1].map(() => new Group().add(solid(new BoxGeometry(1, 1, 1), ink)));
  scene.add(...bodies);
  const batch = new SceneBatch(scene, bodies);
  const follow = () => {
    scene.updateMatrixWorld();
    batch.follow();
  };
  const drawn = scene.children.filter((o) => !(o instanceof Group)) as (Mesh | LineSegments)[];
  return { scene, batch, follow, drawn, moved: bodies[1] as Group };
}

const corners = (o: Mesh | LineSegments) => {
  const places = o.geometry.getAttribute("position");
  return Array.from({ length: places.count }, (_, i) => new Vector3().fromBufferAttribute(places, i));
};

describe("bodies that are drawn together", () => {
  it("need one call for all faces and one for all edges", () => {
    const { drawn } = cubes();
    expect(drawn.map((o) => [o instanceof Mesh, corners(o).length])).toEqual([
      [true, 2 * 24],
      [false, 2 * 24],
    ]);
  });

  it("are where their bodies are, after each motion", () => {
    const { drawn, moved, follow } = cubes();
    for (const x of [3, 5]) {
      moved.position.x = x;
      follow();
      const xs = corners(drawn[0] as Mesh).map((p) => p.x);
      expect([Math.min(...xs), Math.max(...xs)]).toEqual([-0.5, x + 0.5]);
    }
  });

  it("have colours of their own", () => {
    const { batch, drawn, moved } = cubes();
    const edges = (moved.children[0] as Group).children[1] as LineSegments;
    expect(batch.color(edges, "#ff0000")).toBe(true);
    const colors = (drawn[1] as LineSegments).geometry.getAttribute("color");
    expect([0, 24].map((i) => [colors.getX(i), colors.getY(i)])).toEqual([
      [0, 0],
      [1, 0],
    ]);
  });

  it("can still be picked one by one", () => {
    const { scene, moved, follow } = cubes();
    moved.position.x = 3;
    follow();
    const ray = new Raycaster(new Vector3(3, 0, 5), new Vector3(0, 0, -1));
    const hit = ray.intersectObjects(scene.children.filter((o) => o instanceof Group))[0];
    expect(hit?.object.parent?.parent).toBe(moved);
  });

  it("leave out what is large or can be seen through", () => {
    const scene = new Scene();
    const large = new Mesh(new SphereGeometry(1, 64, 64), new MeshBasicMaterial());
    const water = new Mesh(new BoxGeometry(), new MeshBasicMaterial({ transparent: true, opacity: 0.7 }));
    const batch = new SceneBatch(scene, [new Group().add(large, water)]);
    expect([large.visible, water.visible, scene.children.length]).toEqual([true, true, 0]);
    expect(batch.color(large, "#ff0000")).toBe(false);
  });
});

describe("round things", () => {
  it("have as many sides as can be seen in their scene", () => {
    expect([0.01, 0.5, 20].map((r) => sidesOf(r, 40))).toEqual([16, 29, 48]);
    // Sides are off the circle by less than a quarter of a dot where the scene is 3,200 dots wide.
    const n = sidesOf(0.5, 40);
    expect(0.5 * (1 - Math.cos(Math.PI / n)) * (3200 / 40)).toBeLessThan(0.25);
  });

  it("have a rim without ends", () => {
    const made: boolean[] = [];
    round((_, __, isOpen) => (made.push(isOpen), new BoxGeometry()), 1, 10, ink, { color: ink.face });
    expect(made).toEqual([false, true]);
  });
});
