import {
  Color,
  GridHelper,
  Group,
  HemisphereLight,
  Line,
  LineBasicMaterial,
  LineSegments,
  Material,
  Mesh,
  Object3D,
  PerspectiveCamera,
  Raycaster,
  Scene,
  Vector2,
  Vector3,
  WebGLRenderer,
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
import { SceneMarks, type Shown } from "./SceneMarks";
import type { Ink } from "./drawn";
import { betweenOf, isBetween, shapeOf } from "./shapes";

export type Camera = "fixed" | "follow" | "orbit";

/** A place that the scene is looked at from, and what it is aimed at, in the directions of the picture. */
export interface Sight {
  eye: Triple;
  aim: Triple;
}

const FIELD = 32;

/** How many times its size the camera stays away from a body that it follows. */
const NEAR = 5;

/** Squares of the ground along each side. */
const GRID = 36;

/** Draws bodies at instants of a run. Knows no store: it is handed bodies and a way to read signals. */
export class SceneDrawing {
  private readonly scene = new Scene();
  private readonly camera = new PerspectiveCamera(FIELD, 1, 0.01, 1e5);
  private readonly renderer: WebGLRenderer;
  private readonly controls: OrbitControls;
  private readonly shapes = new Map<string, Group>();
  private readonly marks: SceneMarks;
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
    this.renderer = new WebGLRenderer({ canvas, antialias: true, preserveDrawingBuffer: true });
    this.scene.background = new Color(ink.paper);
    this.space = spaceOf(bodies, reads);
    this.goes = farthest(bodies, reads);
    this.extent = Math.max(...this.space.most.map((m, k) => m - (this.space.least[k] as number)));
    const grid = new GridHelper(this.extent * 3, GRID, ink.grid, ink.grid);
    const lowest = Math.min(0, this.space.least[1]);
    grid.position.set((this.space.least[0] + this.space.most[0]) / 2, lowest, 0);
    grid.visible = !hasSurroundings(bodies);
    this.scene.add(grid, new HemisphereLight(ink.face, ink.grid, 3));
    for (const body of bodies) this.add(body);
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
    for (const [id, group] of this.shapes)
      group.traverse((o) => {
        if (o instanceof LineSegments && !o.userData["mark"] && !o.userData["chart"])
          (o.material as LineBasicMaterial).color.set(id === part ? this.ink.chosen : this.ink.edge);
      });
    this.chosen = part;
    if (part !== null) this.target = part;
    this.draw();
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
    const [width, height] = [0, 1].map((k) => (this.space.most[k] as number) - (this.space.least[k] as number)) as [number, number];
    const tall = Math.max(height, width / Math.max(0.2, this.camera.aspect), this.extent / 3) * 1.15;
    const far = tall / 2 / Math.tan((FIELD * Math.PI) / 360);
    const isPlane = this.bodies.every((b) => b.quaternion.length === 0);
    const way = isPlane ? new Vector3(0.28, 0.22, 1) : new Vector3(0.8, 0.5, 1);
    this.camera.position.copy(middle).add(way.normalize().multiplyScalar(far + this.extent / 8));
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

  /** Where the names of bodies stand on the canvas, in shares of its size. */
  labels(): { part: string; name: string; x: number; y: number }[] {
    return this.bodies.flatMap((b) => {
      if (!moves(b)) return [];
      const group = this.shapes.get(b.part) as Group;
      const middle = b.points[1] ? new Vector3(b.points[1].x / 2, b.points[1].y / 2, 0) : new Vector3();
      const at = middle.applyMatrix4(group.matrixWorld).project(this.camera);
      return at.z < 1 ? [{ part: b.part, name: b.name, x: (at.x + 1) / 2, y: (1 - at.y) / 2 }] : [];
    });
  }

  resize(width: number, height: number) {
    this.renderer.setPixelRatio(Math.min(2, window.devicePixelRatio));
    this.renderer.setSize(width, height, false);
    this.camera.aspect = width / Math.max(1, height);
    this.camera.updateProjectionMatrix();
    if (this.mode === "fixed") this.look();
    else this.draw();
  }

  draw() {
    this.renderer.render(this.scene, this.camera);
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
    this.renderer.dispose();
    // Browsers keep few contexts alive at once.
    this.renderer.forceContextLoss();
  }
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
