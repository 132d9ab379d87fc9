import { Color, Mesh, PlaneGeometry, ShaderMaterial, UniformsLib, UniformsUtils } from "three";

/** The most squares of a chart each way. */
const MOST_SQUARES = 200;

const vertexShader = /* glsl */ `
  varying vec2 place;
  #include <fog_pars_vertex>
  void main() {
    place = uv;
    vec4 mvPosition = modelViewMatrix * vec4(position, 1.0);
    gl_Position = projectionMatrix * mvPosition;
    #include <fog_vertex>
  }
`;

/** Lines one dot wide however near they are; where squares become smaller than two dots there are none. */
const fragmentShader = /* glsl */ `
  uniform vec3 color;
  uniform vec2 squares;
  varying vec2 place;
  #include <fog_pars_fragment>
  void main() {
    vec2 at = (place - 0.5) * squares;
    vec2 dot = fwidth(at);
    vec2 away = abs(fract(at - 0.5) - 0.5) / dot;
    float line = 1.0 - min(min(away.x, away.y), 1.0);
    gl_FragColor = vec4(color, line * (1.0 - smoothstep(0.2, 0.5, max(dot.x, dot.y))));
    #include <fog_fragment>
    #include <colorspace_fragment>
  }
`;

/** How far apart the lines of a chart are: 1, 2, 5, 10 … m. */
export function apartOf(width: number, depth: number): number {
  const least = Math.max(width, depth) / MOST_SQUARES;
  const ten = 10 ** Math.max(0, Math.ceil(Math.log10(least)) - 1);
  return [1, 2, 5, 10].map((k) => k * ten).find((k) => k >= least) ?? 10 * ten;
}

/** The chart on top of water and land, in the plane of x and y about its middle: what moves over it is seen to move. Drawn by dot, since
 * lines that pass beside the camera are lost by some ways of drawing. */
export function chartOf(width: number, depth: number, color: string): Mesh {
  const apart = apartOf(width, depth);
  const material = new ShaderMaterial({
    vertexShader,
    fragmentShader,
    uniforms: UniformsUtils.merge([
      UniformsLib.fog,
      { color: { value: new Color(color) }, squares: { value: [width / apart, depth / apart] } },
    ]),
    fog: true,
    transparent: true,
    depthWrite: false,
    polygonOffset: true,
    polygonOffsetFactor: -1,
    polygonOffsetUnits: -1,
  });
  const chart = new Mesh(new PlaneGeometry(width, depth), material);
  // Over the water, which can be seen through as well.
  chart.renderOrder = 1;
  chart.userData["chart"] = true;
  return chart;
}
