import { AnimationClip, Group, Mesh, QuaternionKeyframeTrack, VectorKeyframeTrack } from "three";
import { GLTFExporter } from "three/examples/jsm/exporters/GLTFExporter.js";
import { poseOf, type Body, type Read } from "./bodies";
import type { Meshes } from "./carried";
import type { Ink } from "./drawn";
import { isBetween, shapeOf } from "./shapes";

/** The scene with its motion as a binary glTF 2.0 file: bodies with their shapes, and a track for each one's place and turn. */
export async function motionFile(
  bodies: readonly Body[],
  times: readonly number[],
  reads: readonly Read[],
  ink: Ink,
  extent: number,
  meshes: Meshes,
): Promise<Blob> {
  const scene = new Group();
  const tracks = [];
  for (const [i, body] of bodies.entries()) {
    if (isBetween(body)) continue;
    const group = shapeOf(body, ink, extent, meshes);
    // Drawn edges, rims and charts are for the screen: files know no faces that are seen from behind alone.
    group.traverse((o) => {
      if (o.userData["rim"] || o.userData["chart"]) o.visible = false;
      else if (!(o instanceof Mesh)) o.visible = o === group || o instanceof Group;
    });
    group.name = `body${i}`;
    scene.add(group);
    const poses = reads.map((r) => poseOf(body, r));
    const at = [...times];
    tracks.push(
      new VectorKeyframeTrack(
        `${group.name}.position`,
        at,
        poses.flatMap((p) => [...p.position]),
      ),
    );
    tracks.push(
      new QuaternionKeyframeTrack(
        `${group.name}.quaternion`,
        at,
        poses.flatMap((p) => [...p.rotation]),
      ),
    );
  }
  const clip = new AnimationClip("motion", -1, tracks);
  const result = await new GLTFExporter().parseAsync(scene, { binary: true, animations: [clip], onlyVisible: true });
  return new Blob([result as ArrayBuffer], { type: "model/gltf-binary" });
}
