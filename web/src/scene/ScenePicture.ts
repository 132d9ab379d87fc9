import { HalfFloatType, type PerspectiveCamera, type Scene, WebGLRenderer, WebGLRenderTarget } from "three";
import { EffectComposer } from "three/examples/jsm/postprocessing/EffectComposer.js";
import { OutputPass } from "three/examples/jsm/postprocessing/OutputPass.js";
import { RenderPass } from "three/examples/jsm/postprocessing/RenderPass.js";
import { Haste, REST } from "./haste";

/** Points inside each dot that edges are smoothed by. */
const SAMPLES = 4;

/** The pictures of a scene on a canvas: with smooth edges, or without while a motion could not be followed otherwise. */
export class ScenePicture {
  private readonly renderer: WebGLRenderer;
  private readonly smooth: EffectComposer;
  private readonly haste = new Haste();
  private rest = 0;

  constructor(
    canvas: HTMLCanvasElement,
    private readonly scene: Scene,
    private readonly camera: PerspectiveCamera,
  ) {
    this.renderer = new WebGLRenderer({ canvas, antialias: false, preserveDrawingBuffer: true });
    this.smooth = new EffectComposer(this.renderer, new WebGLRenderTarget(1, 1, { type: HalfFloatType, samples: SAMPLES }));
    this.smooth.addPass(new RenderPass(scene, camera));
    this.smooth.addPass(new OutputPass());
  }

  resize(width: number, height: number) {
    const ratio = Math.min(2, window.devicePixelRatio);
    this.renderer.setPixelRatio(ratio);
    this.renderer.setSize(width, height, false);
    this.smooth.setPixelRatio(ratio);
    this.smooth.setSize(width, height);
  }

  draw() {
    window.clearTimeout(this.rest);
    if (!this.haste.begin(performance.now())) return this.smooth.render();
    this.renderer.render(this.scene, this.camera);
    this.rest = window.setTimeout(() => this.smooth.render(), REST);
  }

  dispose() {
    window.clearTimeout(this.rest);
    this.smooth.passes.forEach((pass) => pass.dispose());
    this.smooth.dispose();
    this.renderer.dispose();
    // Browsers keep few contexts alive at once.
    this.renderer.forceContextLoss();
  }
}
