import {
  AmbientLight,
  ArrowHelper,
  Box3,
  BoxGeometry,
  BufferGeometry,
  CylinderGeometry,
  DirectionalLight,
  EdgesGeometry,
  Group,
  InstancedMesh,
  LineBasicMaterial,
  LineSegments,
  Matrix4,
  Mesh,
  MeshLambertMaterial,
  OrthographicCamera,
  Scene,
  Vector3,
  WebGLRenderer,
} from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";

type Triple = readonly number[];

/** Boxes or tubes in a regular array. */
export interface PreviewSolid {
  form: string;
  role: string;
  at: Triple;
  size: Triple;
  axis: number;
  count: readonly number[];
  step: Triple;
}

export interface Preview {
  solids: readonly PreviewSolid[];
  flows: readonly { side: string; from: Triple; to: Triple }[];
  lengths: readonly { name: string; from: Triple; to: Triple }[];
}

export interface PreviewInk {
  paper: string;
  edge: string;
  metal: string;
  fin: string;
  shell: string;
  first: string;
  second: string;
}

/** Words on the picture, at shares of its size. */
export interface PreviewLabel {
  text: string;
  x: number;
  y: number;
}

/** Of how many things of an array edges are drawn: of more they would be nothing but ink. */
const MOST_EDGED = 60;

/** How far round and up the part is looked at from first, rad. */
const SIGHT = { around: 0.62, up: 0.42 };

const vector = (t: Triple) => new Vector3(t[0], t[1], t[2]);

/** The places of an array of things. */
export function placesOf(solid: PreviewSolid): Vector3[] {
  const places: Vector3[] = [];
  const [nx = 1, ny = 1, nz = 1] = solid.count;
  for (let i = 0; i < nx; i++)
    for (let j = 0; j < ny; j++)
      for (let k = 0; k < nz; k++)
        places.push(
          new Vector3(
            (solid.at[0] ?? 0) + i * (solid.step[0] ?? 0),
            (solid.at[1] ?? 0) + j * (solid.step[1] ?? 0),
            (solid.at[2] ?? 0) + k * (solid.step[2] ?? 0),
          ),
        );
  return places;
}

function formOf(solid: PreviewSolid): BufferGeometry {
  const [x = 1, y = 1, z = 1] = solid.size;
  if (solid.form === "box") return new BoxGeometry(x, y, z);
  const length = solid.size[solid.axis] ?? 1;
  const across = solid.size[(solid.axis + 1) % 3] ?? 1;
  const tube = new CylinderGeometry(across / 2, across / 2, length, 20);
  if (solid.axis === 0) tube.rotateZ(-Math.PI / 2);
  if (solid.axis === 2) tube.rotateX(Math.PI / 2);
  return tube;
}

/** Draws what a part looks like with its sizes. Knows no store. */
export class PartDrawing {
  private readonly scene = new Scene();
  private readonly camera = new OrthographicCamera();
  private readonly renderer: WebGLRenderer;
  private readonly controls: OrbitControls;
  private readonly group = new Group();
  private preview: Preview | null = null;
  private width = 1;
  private height = 1;

  constructor(
    canvas: HTMLCanvasElement,
    private readonly ink: PreviewInk,
    private readonly tell: (labels: readonly PreviewLabel[]) => void,
  ) {
    this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true, preserveDrawingBuffer: true });
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.enablePan = false;
    this.controls.addEventListener("change", () => this.draw());
    const light = new DirectionalLight("#ffffff", 1.6);
    light.position.set(-1, 2, 1.5);
    this.scene.add(new AmbientLight("#ffffff", 1.9), light, this.group);
    this.camera.position.set(Math.sin(SIGHT.around), Math.tan(SIGHT.up), Math.cos(SIGHT.around));
  }

  show(preview: Preview) {
    this.preview = preview;
    this.clear();
    for (const solid of preview.solids) this.group.add(this.solid(solid));
    const extent = this.extent();
    for (const flow of preview.flows) {
      const way = vector(flow.to).sub(vector(flow.from));
      const color = flow.side === "first" ? this.ink.first : this.ink.second;
      this.group.add(new ArrowHelper(way.clone().normalize(), vector(flow.from), way.length(), color, extent / 16, extent / 28));
    }
    this.frame();
  }

  resize(width: number, height: number) {
    [this.width, this.height] = [Math.max(1, width), Math.max(1, height)];
    this.renderer.setPixelRatio(Math.min(2, window.devicePixelRatio));
    this.renderer.setSize(width, height, false);
    this.frame();
  }

  /** Turns the part by steps, for keys. */
  turn(around: number, up: number) {
    const aim = this.controls.target;
    const from = this.camera.position.clone().sub(aim);
    from.applyAxisAngle(new Vector3(0, 1, 0), around);
    const side = new Vector3().crossVectors(new Vector3(0, 1, 0), from).normalize();
    const raised = from.clone().applyAxisAngle(side, -up);
    this.camera.position.copy(aim).add(Math.abs(raised.clone().normalize().y) < 0.98 ? raised : from);
    this.controls.update();
    this.draw();
  }

  dispose() {
    this.clear();
    this.controls.dispose();
    this.renderer.dispose();
    this.renderer.forceContextLoss();
  }

  private solid(solid: PreviewSolid): Group {
    const group = new Group();
    const places = placesOf(solid);
    const form = formOf(solid);
    const isShell = solid.role === "shell";
    const material = new MeshLambertMaterial({
      color: this.ink[solid.role as "metal" | "fin" | "shell"] ?? this.ink.metal,
      transparent: isShell,
      opacity: isShell ? 0.22 : 1,
      depthWrite: !isShell,
      polygonOffset: true,
      polygonOffsetFactor: 1,
      polygonOffsetUnits: 1,
    });
    const all = new InstancedMesh(form, material, places.length);
    places.forEach((place, i) => all.setMatrixAt(i, new Matrix4().setPosition(place)));
    group.add(all);
    const edges = new EdgesGeometry(form, 30);
    const ink = new LineBasicMaterial({ color: this.ink.edge });
    if (places.length <= MOST_EDGED)
      for (const place of places) {
        const lines = new LineSegments(edges, ink);
        lines.position.copy(place);
        group.add(lines);
      }
    else if (solid.form === "box") {
      // Around all of them, one box says where they are.
      const around = new Box3().setFromObject(all);
      const box = new BoxGeometry(...around.getSize(new Vector3()).toArray());
      const lines = new LineSegments(new EdgesGeometry(box), ink);
      lines.position.copy(around.getCenter(new Vector3()));
      group.add(lines);
    }
    return group;
  }

  private clear() {
    this.group.traverse((o) => {
      if (o instanceof Mesh || o instanceof LineSegments) {
        o.geometry.dispose();
        for (const m of Array.isArray(o.material) ? o.material : [o.material]) m.dispose();
      }
    });
    this.group.clear();
  }

  private bounds(): Box3 {
    const box = new Box3();
    for (const solid of this.preview?.solids ?? []) {
      const half = vector(solid.size).multiplyScalar(0.5);
      for (const place of placesOf(solid)) {
        box.expandByPoint(place.clone().sub(half));
        box.expandByPoint(place.clone().add(half));
      }
    }
    return box;
  }

  private extent(): number {
    const size = this.bounds().getSize(new Vector3()).length();
    return Number.isFinite(size) && size > 0 ? size : 1;
  }

  /** Aims at the part and holds all of it, whichever way it is turned. */
  private frame() {
    const box = this.bounds();
    if (box.isEmpty()) return this.draw();
    for (const flow of this.preview?.flows ?? []) box.expandByPoint(vector(flow.from));
    const centre = box.getCenter(new Vector3());
    const extent = this.extent();
    const way = this.camera.position.clone().sub(this.controls.target).normalize();
    this.controls.target.copy(centre);
    this.camera.position.copy(centre).addScaledVector(way, 3 * extent);
    this.camera.up.set(0, 1, 0);
    this.camera.lookAt(centre);
    this.camera.updateMatrixWorld();
    const reach = { x: 0, y: 0 };
    for (let i = 0; i < 8; i++) {
      const corner = new Vector3(i & 1 ? box.max.x : box.min.x, i & 2 ? box.max.y : box.min.y, i & 4 ? box.max.z : box.min.z);
      corner.applyMatrix4(this.camera.matrixWorldInverse);
      reach.x = Math.max(reach.x, Math.abs(corner.x));
      reach.y = Math.max(reach.y, Math.abs(corner.y));
    }
    const ratio = this.width / this.height;
    const tall = 1.06 * Math.max(reach.y, reach.x / ratio);
    Object.assign(this.camera, { left: -tall * ratio, right: tall * ratio, top: tall, bottom: -tall, near: 0, far: 8 * extent });
    this.camera.updateProjectionMatrix();
    this.controls.update();
    this.draw();
  }

  private draw() {
    this.renderer.render(this.scene, this.camera);
    this.tell(
      (this.preview?.lengths ?? []).map((length) => {
        const middle = vector(length.from).add(vector(length.to)).multiplyScalar(0.5).project(this.camera);
        return { text: length.name, x: (middle.x + 1) / 2, y: (1 - middle.y) / 2 };
      }),
    );
  }
}
