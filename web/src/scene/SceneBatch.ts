import {
  BufferAttribute,
  BufferGeometry,
  Color,
  type ColorRepresentation,
  FrontSide,
  LineBasicMaterial,
  LineSegments,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  type Object3D,
  Vector3,
} from "three";

/** With more corners than this, a thing is drawn by itself: moving its corners here would cost more than a call to draw it. */
const MOST_CORNERS = 2000;

type Piece = Mesh<BufferGeometry, MeshBasicMaterial> | LineSegments<BufferGeometry, LineBasicMaterial>;

/**
 * Draws the small plain things of many bodies in three calls: faces, rims and edges. A call costs more than the corners of such a
 * thing, most of all where no graphics hardware draws. The things themselves stay where they are, unseen, and can be picked.
 */
export class SceneBatch {
  private readonly lots: Lot[];

  constructor(scene: Object3D, groups: Iterable<Object3D>) {
    const kinds = new Map<string, Piece[]>();
    for (const group of groups)
      group.traverse((o) => {
        const kind = kindOf(o);
        if (kind) kinds.set(kind, [...(kinds.get(kind) ?? []), o as Piece]);
      });
    this.lots = [...kinds.values()].map((pieces) => new Lot(pieces));
    for (const lot of this.lots) scene.add(lot.drawn);
  }

  /** Takes the corners of what has moved to where it is now. */
  follow() {
    for (const lot of this.lots) lot.follow();
  }

  /** Gives a thing another colour; false where it is drawn by itself. */
  color(thing: Object3D, color: ColorRepresentation) {
    return this.lots.some((lot) => lot.color(thing, color));
  }
}

/** Which things can be drawn together; null for what is drawn by itself. */
function kindOf(o: Object3D): string | null {
  const isFace = o instanceof Mesh && o.material instanceof MeshBasicMaterial;
  if (!isFace && !(o instanceof LineSegments && o.material instanceof LineBasicMaterial)) return null;
  const { material, geometry } = o as Piece;
  if (material.transparent || material.map || !material.depthTest || geometry.getAttribute("position").count > MOST_CORNERS) return null;
  return isFace ? (material.side === FrontSide ? "faces" : `side ${material.side}`) : "lines";
}

interface Member {
  piece: Piece;
  local: Vector3[];
  from: number;
  placed: Matrix4 | null;
}

/** Things of one kind, their corners side by side. */
class Lot {
  readonly drawn: Mesh | LineSegments;
  private readonly members: Member[] = [];
  private readonly places: BufferAttribute;
  private readonly colors: BufferAttribute;

  constructor(pieces: readonly Piece[]) {
    const order: number[] = [];
    let corners = 0;
    for (const piece of pieces) {
      const { index } = piece.geometry;
      const at = piece.geometry.getAttribute("position");
      const local = Array.from({ length: at.count }, (_, i) => new Vector3().fromBufferAttribute(at, i));
      const count = index ? index.count : at.count;
      for (let i = 0; i < count; i++) order.push(corners + (index ? index.getX(i) : i));
      this.members.push({ piece, local, from: corners, placed: null });
      corners += local.length;
      piece.visible = false;
    }
    this.places = new BufferAttribute(new Float32Array(3 * corners), 3);
    this.colors = new BufferAttribute(new Float32Array(3 * corners), 3);
    const geometry = new BufferGeometry().setAttribute("position", this.places).setAttribute("color", this.colors).setIndex(order);
    const [first] = pieces as [Piece];
    const material = first.material.clone();
    material.vertexColors = true;
    for (const { piece } of this.members) this.color(piece, piece.material.color);
    material.color.set(0xffffff);
    this.drawn = first instanceof Mesh ? new Mesh(geometry, material) : new LineSegments(geometry, material);
    // Where its corners are changes with every picture.
    this.drawn.frustumCulled = false;
  }

  follow() {
    const at = new Vector3();
    for (const member of this.members) {
      const { piece, local, from, placed } = member;
      if (placed?.equals(piece.matrixWorld)) continue;
      for (const [i, corner] of local.entries()) {
        at.copy(corner).applyMatrix4(piece.matrixWorld);
        this.places.setXYZ(from + i, at.x, at.y, at.z);
      }
      member.placed = (placed ?? new Matrix4()).copy(piece.matrixWorld);
      this.places.needsUpdate = true;
    }
  }

  color(thing: Object3D, color: ColorRepresentation) {
    const member = this.members.find((m) => m.piece === thing);
    if (!member) return false;
    const { r, g, b } = new Color(color);
    for (let i = 0; i < member.local.length; i++) this.colors.setXYZ(member.from + i, r, g, b);
    this.colors.needsUpdate = true;
    return true;
  }
}
