import { BackSide, Color, Float32BufferAttribute, Mesh, MeshBasicMaterial, type PerspectiveCamera, SphereGeometry } from "three";

/** How much of the colour of the zenith the sky takes on. */
const DEPTH = 0.22;

/** A dome over the camera: paper at the horizon, above it a little of the water's colour. */
export class Sky extends Mesh<SphereGeometry, MeshBasicMaterial> {
  constructor(paper: string, zenith: string) {
    const dome = new SphereGeometry(1, 12, 8, 0, 2 * Math.PI, 0, Math.PI / 2);
    const [low, high] = [new Color(paper), new Color(paper).lerp(new Color(zenith), DEPTH)];
    const places = dome.getAttribute("position");
    const colors = Array.from({ length: places.count }, (_, i) =>
      low
        .clone()
        .lerp(high, Math.sqrt(Math.max(0, places.getY(i))))
        .toArray(),
    );
    dome.setAttribute("color", new Float32BufferAttribute(colors.flat(), 3));
    super(dome, new MeshBasicMaterial({ vertexColors: true, side: BackSide, depthWrite: false, fog: false }));
    // Everything else is in front of it.
    this.renderOrder = -1;
    this.frustumCulled = false;
  }

  /** It has no place of its own: it is as far as can be seen from wherever one looks. */
  follow(camera: PerspectiveCamera) {
    this.position.copy(camera.position);
    this.scale.setScalar(2 * camera.near);
  }
}
