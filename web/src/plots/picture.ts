import { rangeOf, type Line, type Rule } from "./curves";
import type { Mark, Picture, Pin } from "./paint";
import type { Scale } from "./scale";

export type Range = [number, number];

/** What a plot shows, whatever its size. */
export interface PlotContent {
  lines: readonly Line[];
  rules?: readonly Rule[];
  x: Range;
  /** Fixed ends of the axes; those of the curves without them. */
  y?: Range;
  right?: Range;
  logX?: boolean;
  logY?: boolean;
  logRight?: boolean;
  unit: string;
  rightUnit?: string;
  xUnit?: string;
  /** How much of x one of its unit is. */
  xScale?: number;
  showX: boolean;
  cursor?: number | null;
  marks?: readonly Mark[];
  /** Instants with a dotted line and a word. */
  events?: readonly { at: number; text: string }[];
  /** Instants that are only marked at the upper edge. */
  ticks?: readonly number[];
  pins?: readonly Pin[];
  dots?: readonly number[];
  /** Points that are drawn large, as they can be taken hold of. */
  handles?: readonly { x: number; y: number }[];
  /** Room for the axis at the right in every plot of a column, so that they stand below each other. */
  hasRight?: boolean;
}

const LEFT = 62;
const RIGHT = 14;
const RIGHT_AXIS = 48;
const TOP = 6;
const WITH_AXIS = 20;
/** Room for the words of events above the plot. */
const WORDS = 11;

const none: never[] = [];

/** A plot laid out in a room of that size. */
export function pictureOf(p: PlotContent, width: number, height: number): Picture {
  const bottom = height - (p.showX ? WITH_AXIS : TOP);
  const top = TOP + (p.events?.some((e) => e.text !== "") ? WORDS : 0);
  const hasRight = p.lines.some((l) => l.right);
  const x: Scale = {
    from: p.x[0],
    to: p.x[1],
    start: LEFT,
    end: width - (hasRight || p.hasRight ? RIGHT_AXIS : RIGHT),
    logarithmic: p.logX === true,
  };
  const vertical = (range: Range | undefined, lines: readonly Line[], rules: readonly Rule[], logarithmic: boolean): Scale => {
    const [from, to] = range ?? rangeOf(lines, rules, x.from, x.to, logarithmic);
    return { from, to, start: bottom, end: top, logarithmic };
  };
  const of = (right: boolean) => p.lines.filter((l) => (l.right === true) === right);
  return {
    width,
    height,
    x,
    left: vertical(p.y, of(false), p.rules ?? none, p.logY === true),
    right: hasRight ? vertical(p.right, of(true), none, p.logRight === true) : null,
    lines: p.lines,
    rules: p.rules ?? none,
    marks: [...(p.marks ?? none), ...(p.cursor === null || p.cursor === undefined ? none : [{ at: p.cursor, color: "#D9481C" }])],
    events: p.events ?? none,
    ticks: p.ticks ?? none,
    pins: p.pins ?? none,
    dots: p.dots ?? none,
    handles: p.handles ?? none,
    unit: p.unit,
    rightUnit: p.rightUnit ?? "",
    xUnit: p.xUnit ?? "",
    xScale: p.xScale ?? 1,
    showX: p.showX,
    box: null,
  };
}
