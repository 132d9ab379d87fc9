/** What pictures of plots are drawn with: a canvas, or an SVG. */
export type Pen = Pick<
  CanvasRenderingContext2D,
  | "clearRect"
  | "save"
  | "restore"
  | "translate"
  | "beginPath"
  | "rect"
  | "clip"
  | "setLineDash"
  | "fillRect"
  | "strokeRect"
  | "fillText"
  | "measureText"
  | "moveTo"
  | "lineTo"
  | "stroke"
  | "roundRect"
  | "fill"
  | "arc"
> & {
  font: string;
  fillStyle: string | CanvasGradient | CanvasPattern;
  strokeStyle: string | CanvasGradient | CanvasPattern;
  lineWidth: number;
  lineJoin: CanvasLineJoin;
  textAlign: CanvasTextAlign;
  globalAlpha: number;
};

/** Draws itself into a room of that size. */
export type Painter = (g: Pen, width: number, height: number) => void;

const painters = new WeakMap<Element, Painter>();

/** Lets a drawing be made again elsewhere, in another size. */
export const setPainter = (element: Element, painter: Painter): void => void painters.set(element, painter);

export const painterOf = (element: Element): Painter | undefined => painters.get(element);
