import {
  ArrowHelper,
  BufferAttribute,
  BufferGeometry,
  ConeGeometry,
  Group,
  Line,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  Quaternion,
  Scene,
  Vector3,
} from "three";
import { moves, poseOf, type Body, type Load, type Read } from "./bodies";
import type { Ink } from "./drawn";
import { forceOf, largestOf, placeOf, sizeText, torqueOf, type Arrow } from "./loads";
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

/** Shares of the scene that the largest arrow is long, and the arc of the largest torque wide. */
const LONGEST = 0.2,
  WIDEST = 0.07;

/** Arrows and arcs smaller than this share of the largest are not drawn; only larger ones are told, and only so many. */
const LEAST = 0.01,
  TOLD = 0.05,
  MOST_TOLD = 12;

/** Three quarters of a circle of radius 1 about z with its head: a turn to the left. */
function turning(color: string): Group {
  const points = Array.from({ length: 37 }, (_, i) => new Vector3(Math.cos((i * Math.PI) / 24), Math.sin((i * Math.PI) / 24), 0));
  const head = new ConeGeometry(0.16, 0.45, 12).rotateZ(-Math.PI / 2).translate(0.1, -1, 0);
  return new Group().add(
    new Line(new BufferGeometry().setFromPoints(points), new LineBasicMaterial({ color })),
    new Mesh(head, new MeshBasicMaterial({ color })),
  );
}

/** Forces, trails, frames and centres of mass of a scene. */
export class SceneMarks {
  private readonly loads: { load: Load; body: Body; arrow: ArrowHelper; arc: Group }[] = [];
  private readonly trails: Line[] = [];
  private readonly largest: { force: number; torque: number };
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
    this.largest = largestOf(bodies, reads);
    for (const body of bodies)
      for (const load of body.forces) {
        const arrow = new ArrowHelper(new Vector3(1, 0, 0), new Vector3(), 1, ink.chosen);
        const arc = turning(ink.chosen);
        arrow.visible = arc.visible = false;
        this.loads.push({ load, body, arrow, arc });
        scene.add(arrow, arc);
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
    const towards = new Vector3();
    for (const { load, body, arrow, arc } of this.loads) {
      const at = placeOf(load, this.pose);
      const lift = load.z ? 0 : this.extent / 40;
      const force = this.share(forceOf(load, this.pose), this.largest.force);
      arrow.visible = force > 0;
      if (arrow.visible) {
        const size = force * LONGEST * this.extent;
        arrow.position.set(at[0], at[1], at[2] + lift);
        arrow.setDirection(towards.set(...forceOf(load, this.pose)).normalize());
        arrow.setLength(size, Math.min(size * 0.35, this.extent / 30), Math.min(size * 0.2, this.extent / 60));
      }
      const torque = this.share(torqueOf(load, body, this.pose), this.largest.torque);
      arc.visible = torque > 0;
      if (!arc.visible) continue;
      arc.position.set(at[0], at[1], at[2] + lift);
      arc.quaternion.setFromUnitVectors(new Vector3(0, 0, 1), towards.set(...torqueOf(load, body, this.pose)).normalize());
      arc.scale.setScalar(torque * WIDEST * this.extent);
    }
  }

  /** What share of the largest one a force or a torque is; nothing where it is not to be seen. */
  private share(arrow: Arrow, largest: number): number {
    const share = this.shown.forces && largest > 0 ? Math.hypot(...arrow) / largest : 0;
    return share > LEAST ? share : 0;
  }

  /** The largest forces and torques of the instant, and where their arrows end. */
  figures(): { text: string; at: Vector3 }[] {
    const found = this.loads.flatMap(({ load, body }) => {
      const at = placeOf(load, this.pose);
      return [
        { value: forceOf(load, this.pose), largest: this.largest.force, reach: LONGEST, unit: "N" },
        { value: torqueOf(load, body, this.pose), largest: this.largest.torque, reach: 0, unit: "N·m" },
      ].flatMap(({ value, largest, reach, unit }) => {
        const share = this.share(value, largest);
        if (share < TOLD) return [];
        const size = Math.hypot(...value);
        const end = new Vector3(...value).multiplyScalar((share * reach * this.extent) / size).add(new Vector3(...at));
        return [{ share, text: sizeText(size, unit), at: end }];
      });
    });
    return found.sort((a, b) => b.share - a.share).slice(0, MOST_TOLD);
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
