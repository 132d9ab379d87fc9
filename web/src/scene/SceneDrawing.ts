import {
  ArrowHelper,
  BufferAttribute,
  BufferGeometry,
  Color,
  GridHelper,
  Group,
  Line,
  LineBasicMaterial,
  LineSegments,
  Material,
  Mesh,
  Object3D,
  PerspectiveCamera,
  Quaternion,
  Raycaster,
  Scene,
  Vector2,
  Vector3,
  WebGLRenderer,
} from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import { arrowScale, endsOf, poseOf, spaceOf, type Body, type Box, type Point, type Read } from "./bodies";
import { betweenOf, isBetween, shapeOf, type Ink } from "./shapes";

export type Camera = "fixed" | "follow" | "orbit";

export interface Shown {
  forces: boolean;
  trails: boolean;
  frames: boolean;
  centres: boolean;
}

/** Points of a trail. */
const TRAIL = 400;

const FIELD = 32;

/** Squares of the ground along each side. */
const GRID = 36;

/** Draws bodies at instants of a run. Knows no store: it is handed bodies and a way to read signals. */
export class SceneDrawing {
  private readonly scene = new Scene();
  private readonly camera = new PerspectiveCamera(FIELD, 1, 0.01, 1e5);
  private readonly renderer: WebGLRenderer;
  private readonly controls: OrbitControls;
  private readonly shapes = new Map<string, Group>();
  private readonly arrows: { arrow: ArrowHelper; body: Body; force: Body["forces"][number] }[] = [];
  private readonly trails = new Map<string, Line>();
  private readonly space: Box;
  private readonly extent: number;
  private readonly scale: number;
  private mode: Camera = "fixed";
  private target: string | null = null;
  private chosen: string | null = null;

  /** @param reads Ways to read the signals at instants spread over the run: how large the scene is, and its forces. */
  constructor(
    canvas: HTMLCanvasElement,
    private readonly bodies: readonly Body[],
    reads: readonly Read[],
    private readonly ink: Ink & { paper: string; grid: string; trail: string },
    private readonly drawn: () => void,
  ) {
    this.renderer = new WebGLRenderer({ canvas, antialias: true, preserveDrawingBuffer: true });
    this.scene.background = new Color(ink.paper);
    this.space = spaceOf(bodies, reads);
    this.extent = Math.max(...this.space.most.map((m, k) => m - (this.space.least[k] as number)));
    this.scale = arrowScale(bodies, reads, this.extent);
    const grid = new GridHelper(this.extent * 3, GRID, ink.grid, ink.grid);
    const lowest = Math.min(0, this.space.least[1]);
    grid.position.set((this.space.least[0] + this.space.most[0]) / 2, lowest, 0);
    this.scene.add(grid);
    for (const body of bodies) this.add(body);
    this.makeTrails(reads);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.enabled = false;
    this.controls.addEventListener("change", () => this.draw());
    this.look();
  }

  private add(body: Body) {
    const group = isBetween(body) ? betweenOf(body, this.ink, this.extent) : shapeOf(body, this.ink, this.extent);
    group.userData["part"] = body.part;
    group.name = body.name;
    this.shapes.set(body.part, group);
    this.scene.add(group);
    for (const force of body.forces) {
      const arrow = new ArrowHelper(new Vector3(1, 0, 0), new Vector3(), 1, this.ink.chosen);
      arrow.visible = false;
      this.arrows.push({ arrow, body, force });
      this.scene.add(arrow);
    }
  }

  /** Where the last point of each body passes, at the instants that were given. */
  private makeTrails(reads: readonly Read[]) {
    const step = Math.max(1, Math.floor(reads.length / TRAIL));
    for (const body of this.bodies) {
      if (body.kind !== "body" && body.kind !== "space" && body.kind !== "wheel") continue;
      const places: number[] = [];
      for (let i = 0; i < reads.length; i += step) {
        const { position, rotation } = poseOf(body, reads[i] as Read);
        const end = body.points[1] ?? body.centre ?? { x: 0, y: 0 };
        const at = new Vector3(end.x, end.y, 0).applyQuaternion(new Quaternion(...rotation)).add(new Vector3(...position));
        places.push(at.x, at.y, at.z);
      }
      const geometry = new BufferGeometry().setAttribute("position", new BufferAttribute(new Float32Array(places), 3));
      const line = new Line(geometry, new LineBasicMaterial({ color: this.ink.trail }));
      line.visible = false;
      this.trails.set(body.part, line);
      this.scene.add(line);
    }
  }

  private pose: Read = () => NaN;

  /** Moves everything to an instant and draws. */
  move(read: Read) {
    this.pose = read;
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
    this.moveArrows();
    if (this.mode === "follow") this.follow();
    this.draw();
  }

  private shown: Shown = { forces: false, trails: false, frames: false, centres: false };

  show(shown: Shown) {
    this.shown = shown;
    for (const line of this.trails.values()) line.visible = shown.trails;
    this.makeHelpers();
    this.moveArrows();
    this.draw();
  }

  private moveArrows() {
    for (const { arrow, force } of this.arrows) {
      const [fx, fy] = [this.pose(force.fx), this.pose(force.fy)];
      const size = Math.hypot(fx, fy) * this.scale;
      arrow.visible = this.shown.forces && size > this.extent / 500;
      if (!arrow.visible) continue;
      arrow.position.set(this.pose(force.x), this.pose(force.y), this.extent / 40);
      arrow.setDirection(new Vector3(fx, fy, 0).normalize());
      arrow.setLength(size, Math.min(size * 0.35, this.extent / 30), Math.min(size * 0.2, this.extent / 60));
    }
  }

  /** Frames and centres of mass hang on their bodies. */
  private makeHelpers() {
    for (const group of this.shapes.values()) for (const child of [...group.children]) if (child.userData["helper"]) group.remove(child);
    for (const body of this.bodies) {
      const group = this.shapes.get(body.part);
      if (!group || isBetween(body)) continue;
      if (this.shown.frames) {
        const l = this.extent / 18;
        const axes = new LineSegments(
          new BufferGeometry().setFromPoints([new Vector3(), new Vector3(l, 0, 0), new Vector3(), new Vector3(0, l / 2, 0)]),
          new LineBasicMaterial({ color: this.ink.edge, depthTest: false }),
        );
        axes.userData["helper"] = true;
        group.add(axes);
      }
      if (this.shown.centres && body.centre) {
        const r = this.extent / 90;
        const { x, y } = body.centre;
        const cross = new LineSegments(
          new BufferGeometry().setFromPoints([
            new Vector3(x - r, y, 0),
            new Vector3(x + r, y, 0),
            new Vector3(x, y - r, 0),
            new Vector3(x, y + r, 0),
          ]),
          new LineBasicMaterial({ color: this.ink.chosen, depthTest: false }),
        );
        cross.userData["helper"] = true;
        group.add(cross);
      }
    }
  }

  choose(part: string | null) {
    if (part === this.chosen) return;
    for (const [id, group] of this.shapes)
      group.traverse((o) => {
        if (o instanceof LineSegments && !o.userData["helper"])
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
    if (mode === "follow") this.follow();
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

  private follow() {
    const moving = this.bodies.find((b) => b.part === this.target) ?? this.bodies.find((b) => b.kind === "body" || b.kind === "space");
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
      if (b.kind !== "body" && b.kind !== "space" && b.kind !== "wheel") return [];
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
