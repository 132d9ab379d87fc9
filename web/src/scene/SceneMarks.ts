import {
  ArrowHelper,
  BufferAttribute,
  BufferGeometry,
  Group,
  Line,
  LineBasicMaterial,
  LineSegments,
  Quaternion,
  Scene,
  Vector3,
} from "three";
import { arrowScale, moves, poseOf, type Body, type Read } from "./bodies";
import type { Ink } from "./drawn";
import { isBetween } from "./shapes";

/** What is shown beside the bodies themselves. */
export interface Shown {
  forces: boolean;
  trails: boolean;
  frames: boolean;
  centres: boolean;
}

/** Points of a trail. */
const TRAIL = 400;

/** Forces, trails, frames and centres of mass of a scene. */
export class SceneMarks {
  private readonly arrows: { arrow: ArrowHelper; force: Body["forces"][number] }[] = [];
  private readonly trails: Line[] = [];
  private readonly scale: number;
  private pose: Read = () => NaN;
  private shown: Shown = { forces: false, trails: false, frames: false, centres: false };

  constructor(
    private readonly scene: Scene,
    private readonly bodies: readonly Body[],
    private readonly shapes: ReadonlyMap<string, Group>,
    reads: readonly Read[],
    private readonly extent: number,
    private readonly ink: Ink & { trail: string },
  ) {
    this.scale = arrowScale(bodies, reads, extent);
    for (const body of bodies)
      for (const force of body.forces) {
        const arrow = new ArrowHelper(new Vector3(1, 0, 0), new Vector3(), 1, ink.chosen);
        arrow.visible = false;
        this.arrows.push({ arrow, force });
        scene.add(arrow);
      }
    this.makeTrails(reads);
  }

  /** Where the last point of each body passes, at the instants that were given. */
  private makeTrails(reads: readonly Read[]) {
    const step = Math.max(1, Math.floor(reads.length / TRAIL));
    for (const body of this.bodies) {
      if (!moves(body)) continue;
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
      this.trails.push(line);
      this.scene.add(line);
    }
  }

  show(shown: Shown) {
    this.shown = shown;
    for (const line of this.trails) line.visible = shown.trails;
    this.makeMarks();
    this.moveArrows();
  }

  move(read: Read) {
    this.pose = read;
    this.moveArrows();
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
  private makeMarks() {
    for (const group of this.shapes.values()) for (const child of [...group.children]) if (child.userData["mark"]) group.remove(child);
    for (const body of this.bodies) {
      const group = this.shapes.get(body.part);
      if (!group || isBetween(body)) continue;
      if (this.shown.frames) {
        const l = this.extent / 18;
        group.add(this.lines(this.ink.edge, [new Vector3(), new Vector3(l, 0, 0), new Vector3(), new Vector3(0, l / 2, 0)]));
      }
      if (this.shown.centres && body.centre) {
        const r = this.extent / 90;
        const { x, y } = body.centre;
        const cross = [new Vector3(x - r, y, 0), new Vector3(x + r, y, 0), new Vector3(x, y - r, 0), new Vector3(x, y + r, 0)];
        group.add(this.lines(this.ink.chosen, cross));
      }
    }
  }

  private lines(color: string, points: Vector3[]): LineSegments {
    const lines = new LineSegments(new BufferGeometry().setFromPoints(points), new LineBasicMaterial({ color, depthTest: false }));
    lines.userData["mark"] = true;
    return lines;
  }
}
