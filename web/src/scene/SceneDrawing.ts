import {
  Color,
  Fog,
  GridHelper,
  Group,
  HemisphereLight,
  Line,
  LineBasicMaterial,
  LineSegments,
  Material,
  Mesh,
  MeshLambertMaterial,
  Object3D,
  PerspectiveCamera,
  Raycaster,
  Scene,
  Vector2,
  Vector3,
} from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import {
  endsOf,
  farthest,
  hasSurroundings,
  moves,
  poseOf,
  reachOf,
  spaceOf,
  type Body,
  type Box,
  type Point,
  type Read,
  type Triple,
} from "./bodies";
import type { Meshes } from "./carried";
import { Sky } from "./Sky";
import { SceneBatch } from "./SceneBatch";
import { SceneMarks, type Shown } from "./SceneMarks";
import { ScenePicture } from "./ScenePicture";
import type { Ink } from "./drawn";
import { betweenOf, isBetween, shapeOf } from "./shapes";

export type Camera = "fixed" | "follow" | "orbit";

/** A place that the scene is looked at from, and what it is aimed at, in the directions of the picture. */
export interface Sight {
  eye: Triple;
  aim: Triple;
}

/** Words on the canvas, at shares of its size; those of a part lead to it. */
export interface Label {
  part?: string | undefined;
  text: string;
  x: number;
  y: number;
}

const FIELD = 32;

/** How many times its size the camera stays away from a body that it follows. */
const NEAR = 5;

/** What is smaller than this share of the scene cannot be made out in a picture of it all. */
const SEEN = 0.02;

/** Squares of the ground along each side. */
const GRID = 36;

/** From how many times the distance of what is looked at things fade, and where they are gone. */
const HAZE = { from: 6, to: 25 };

/** How much of the chosen colour a lit body takes on. */
const TINT = 0.35;

/** Draws bodies at instants of a run. Knows no store: it is handed bodies and a way to read signals. */
export class SceneDrawing {
  private readonly scene = new Scene();
  private readonly camera = new PerspectiveCamera(FIELD);
  private readonly picture: ScenePicture;
  private readonly controls: OrbitControls;
  private readonly shapes = new Map<string, Group>();
  private readonly marks: SceneMarks;
  private readonly batch: SceneBatch;
  private readonly sky: Sky;
  private readonly haze: Fog;
  private readonly space: Box;
  private readonly extent: number;
  private readonly goes: Body | undefined;
  private mode: Camera = "fixed";
  private target: string | null = null;
  private chosen: string | null = null;

  /** @param reads Ways to read the signals at instants spread over the run: how large the scene is, and its forces. */
  constructor(
    canvas: HTMLCanvasElement,
    private readonly bodies: readonly Body[],
    reads: readonly Read[],
    private readonly meshes: Meshes,
    private readonly ink: Ink & { paper: string; grid: string; trail: string },
    private readonly drawn: () => void,
  ) {
    this.picture = new ScenePicture(canvas, this.scene, this.camera);
    this.scene.background = new Color(ink.paper);
    this.sky = new Sky(ink.paper, ink.trail);
    this.scene.fog = this.haze = new Fog(ink.paper);
    this.space = spaceOf(bodies, reads);
    this.goes = farthest(bodies, reads);
    this.extent = Math.max(...this.space.most.map((m, k) => m - (this.space.least[k] as number)));
    const grid = new GridHelper(this.extent * 3, GRID, ink.grid, ink.grid);
    const lowest = Math.min(0, this.space.least[1]);
    grid.position.set((this.space.least[0] + this.space.most[0]) / 2, lowest, 0);
    grid.visible = !hasSurroundings(bodies);
    this.scene.add(this.sky, grid, new HemisphereLight(ink.face, ink.grid, 3));
    for (const body of bodies) this.add(body);
    this.batch = new SceneBatch(this.scene, this.shapes.values());
    this.marks = new SceneMarks(this.scene, bodies, this.shapes, reads, this.extent, ink);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.enabled = false;
    this.controls.addEventListener("change", () => this.draw());
    this.look();
  }

  private add(body: Body) {
    const group = isBetween(body) ? betweenOf(body, this.ink, this.extent) : shapeOf(body, this.ink, this.extent, this.meshes);
    group.userData["part"] = body.part;
    group.name = body.name;
    this.shapes.set(body.part, group);
    this.scene.add(group);
  }

  /** Moves everything to an instant and draws. */
  move(read: Read) {
    for (const body of this.bodies) {
      const group = this.shapes.get(body.part);
      if (!group) continue;
      if (isBetween(body)) stretch(group, body, ...endsOf(body, read));
      else {
        const { position, rotation } = poseOf(body, read);
        group.position.set(...position);
        group.quaternion.set(...rotation);
      }
    }
    this.marks.move(read);
    if (this.mode === "follow") this.follow();
    this.draw();
  }

  show(shown: Shown) {
    this.marks.show(shown);
    this.draw();
  }

  choose(part: string | null) {
    if (part === this.chosen) return;
    for (const [id, group] of this.shapes) if (id === part || id === this.chosen) group.traverse((o) => this.color(o, id === part));
    this.chosen = part;
    if (part !== null) this.target = part;
    this.draw();
  }

  /** Edges tell which body is chosen; what has none is tinted. */
  private color(o: Object3D, isChosen: boolean) {
    if (o instanceof LineSegments && !o.userData["mark"]) {
      const color = isChosen ? this.ink.chosen : this.ink.edge;
      if (!this.batch.color(o, color)) (o.material as LineBasicMaterial).color.set(color);
    } else if (o instanceof Mesh && o.material instanceof MeshLambertMaterial)
      o.material.emissive.set(isChosen ? this.ink.chosen : 0).multiplyScalar(TINT);
  }

  /** The part whose body is seen at a point of the canvas, in shares of its size. */
  pick(x: number, y: number): string | null {
    const ray = new Raycaster();
    ray.setFromCamera(new Vector2(2 * x - 1, 1 - 2 * y), this.camera);
    for (const hit of ray.intersectObjects([...this.shapes.values()], true)) {
      let o: Object3D | null = hit.object;
      if (!(o instanceof Mesh)) continue;
      while (o && !o.userData["part"]) o = o.parent;
      if (o) return o.userData["part"] as string;
    }
    return null;
  }

  setCamera(mode: Camera) {
    this.mode = mode;
    this.controls.enabled = mode === "orbit";
    if (mode === "fixed") this.look();
    if (mode === "follow") this.approach();
    this.draw();
  }

  /** Looks at the whole scene, a little from above and from the right; a plane mechanism nearly from the front. */
  look() {
    const middle = new Vector3(...this.space.least).add(new Vector3(...this.space.most)).multiplyScalar(0.5);
    const isPlane = this.bodies.every((b) => b.quaternion.length === 0);
    const way = (isPlane ? new Vector3(0.28, 0.22, 1) : new Vector3(0.8, 0.5, 1)).normalize();
    this.camera.position.copy(middle).addScaledVector(way, distanceFor(this.space, way, this.camera.aspect));
    this.camera.up.set(0, 1, 0);
    this.camera.lookAt(middle);
    this.controls?.target.copy(middle);
    this.draw();
  }

  /** Looks at the scene from where it was looked at before. */
  lookFrom({ eye, aim }: Sight) {
    this.camera.position.set(eye.x, eye.y, eye.z);
    this.camera.lookAt(aim.x, aim.y, aim.z);
    this.controls.target.set(aim.x, aim.y, aim.z);
    this.draw();
  }

  /** Where the scene is looked at from now. */
  sight(): Sight {
    const plain = ({ x, y, z }: Vector3) => ({ x, y, z });
    return { eye: plain(this.camera.position), aim: plain(this.controls.target) };
  }

  /** Whether what moves is too small to be seen while the whole scene is. */
  get isWide(): boolean {
    return this.goes !== undefined && reachOf(this.goes) < this.extent * SEEN;
  }

  /** The body that the camera follows: the chosen one, else the one that moves most. */
  private followed(): Body | undefined {
    return this.bodies.find((b) => b.part === this.target) ?? this.goes;
  }

  /** Comes close to the body that is followed, where the whole scene is much larger. */
  private approach() {
    const body = this.followed();
    if (!body) return;
    const size = Math.max(reachOf(body), this.extent / 100);
    const away = this.camera.position.clone().sub(this.controls.target);
    if (away.length() > NEAR * size) this.camera.position.copy(this.controls.target).add(away.setLength(NEAR * size));
    this.follow();
  }

  private follow() {
    const moving = this.followed();
    const group = moving && this.shapes.get(moving.part);
    if (!group) return;
    const away = this.camera.position.clone().sub(this.controls.target);
    this.controls.target.copy(group.position);
    this.camera.position.copy(group.position).add(away);
    this.camera.lookAt(group.position);
  }

  /** Where the names of bodies stand on the canvas. */
  names(): Label[] {
    return this.bodies.flatMap((b) => {
      if (!moves(b)) return [];
      const group = this.shapes.get(b.part) as Group;
      const middle = b.points[1] ? new Vector3(b.points[1].x / 2, b.points[1].y / 2, 0) : new Vector3();
      return this.labelled(b.name, middle.applyMatrix4(group.matrixWorld), b.part);
    });
  }

  /** Where the sizes of forces and torques stand on the canvas. */
  figures(): Label[] {
    return this.marks.figures().flatMap(({ text, at }) => this.labelled(text, at));
  }

  private labelled(text: string, place: Vector3, part?: string): Label[] {
    const at = place.project(this.camera);
    return at.z < 1 ? [{ part, text, x: (at.x + 1) / 2, y: (1 - at.y) / 2 }] : [];
  }

  resize(width: number, height: number) {
    this.picture.resize(width, height);
    this.camera.aspect = width / Math.max(1, height);
    this.camera.updateProjectionMatrix();
    if (this.mode === "fixed") this.look();
    else this.draw();
  }

  draw() {
    const away = Math.max(this.camera.position.distanceTo(this.controls?.target ?? new Vector3()), this.extent / 100);
    [this.haze.near, this.haze.far] = [HAZE.from * away, HAZE.to * away];
    // Depths are told apart best where the nearest is not much nearer than what is looked at.
    this.camera.near = away / 100;
    this.camera.far = 100 * (away + this.extent);
    this.camera.updateProjectionMatrix();
    this.sky.follow(this.camera);
    this.scene.updateMatrixWorld();
    this.batch.follow();
    this.picture.draw();
    this.drawn();
  }

  dispose() {
    this.controls.dispose();
    this.scene.traverse((o) => {
      if (o instanceof Mesh || o instanceof LineSegments || o instanceof Line) {
        o.geometry.dispose();
        (o.material as Material).dispose();
      }
    });
    this.picture.dispose();
  }
}

/** How much of the picture the scene may fill. */
const FILLED = 0.92;

/** How far from the middle of a box, and seen which way, all its corners are in the picture. */
export function distanceFor({ least, most }: Box, way: Vector3, aspect: number): number {
  const right = new Vector3(0, 1, 0).cross(way).normalize();
  const up = way.clone().cross(right);
  const slope = FILLED * Math.tan((FIELD * Math.PI) / 360);
  const half = new Vector3(...most).sub(new Vector3(...least)).multiplyScalar(0.5);
  const corners = [-1, 1].flatMap((i) => [-1, 1].flatMap((j) => [-1, 1].map((k) => half.clone().multiply(new Vector3(i, j, k)))));
  const needed = corners.map((c) => c.dot(way) + Math.max(Math.abs(c.dot(right)) / Math.max(0.2, aspect), Math.abs(c.dot(up))) / slope);
  return Math.max(1e-3, ...needed);
}

/** Puts what lies along x from 0 to 1 between two points. */
function stretch(group: Group, body: Body, a: Point, b: Point) {
  const length = Math.max(1e-6, Math.hypot(b.x - a.x, b.y - a.y));
  group.position.set(a.x, a.y, 0);
  group.rotation.set(0, 0, Math.atan2(b.y - a.y, b.x - a.x));
  if (body.kind !== "strut") {
    group.scale.set(length, 1, 1);
    return;
  }
  // The housing keeps half of the way, the rod reaches to the other end.
  const housing = group.getObjectByName("housing");
  const rod = group.getObjectByName("rod");
  housing?.scale.set(length * 0.55, 1, 1);
  rod?.scale.set(length, 1, 1);
}
