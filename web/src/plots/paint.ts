import { format } from "../ui/format";
import { tokens } from "../ui/tokens";
import type { Line, Rule } from "./curves";
import type { Pen } from "./pen";
import { marksOf, toPixel, type Scale } from "./scale";
import { spaced } from "./ticks";

/** A mark on the axis along the bottom, with a letter where it has one. */
export interface Mark {
  at: number;
  color: string;
  label?: string;
}

/** A note pinned to a point. */
export interface Pin {
  x: number;
  y: number;
  text: string;
}

export interface Picture {
  width: number;
  height: number;
  x: Scale;
  left: Scale;
  /** The second axis; null where no curve asks for it. */
  right: Scale | null;
  lines: readonly Line[];
  rules: readonly Rule[];
  marks: readonly Mark[];
  /** Instants with a dotted line and a word. */
  events: readonly { at: number; text: string }[];
  /** Instants that are only marked at the upper edge. */
  ticks: readonly number[];
  pins: readonly Pin[];
  /** Points on the zero line, such as crossings. */
  dots: readonly number[];
  /** Points that can be taken hold of. */
  handles: readonly { x: number; y: number }[];
  unit: string;
  rightUnit: string;
  xUnit: string;
  /** How much of x one of its unit is. */
  xScale: number;
  showX: boolean;
  /** A rectangle being dragged. */
  box: { x0: number; y0: number; x1: number; y1: number } | null;
}

const LABEL_HEIGHT = 12;
const FONT = '10.5px "IBM Plex Mono", monospace';

/** Draws a plot. The context's unit is a pixel of the page. */
export function paint(g: Pen, p: Picture): void {
  g.clearRect(0, 0, p.width, p.height);
  g.font = FONT;
  g.lineJoin = "round";
  axes(g, p);
  events(g, p);
  g.save();
  g.beginPath();
  g.rect(p.x.start, p.left.end - 2, p.x.end - p.x.start, p.left.start - p.left.end + 4);
  g.clip();
  for (const r of p.rules) rule(g, p, r);
  for (const l of p.lines) curve(g, p, l);
  g.fillStyle = tokens.surface;
  for (const h of p.handles) handle(g, p, h);
  g.restore();
  for (const pin of p.pins) note(g, p, pin);
  for (const m of p.marks) mark(g, p, m);
  if (p.box) {
    g.setLineDash([]);
    g.fillStyle = tokens.buoy + "1A";
    g.strokeStyle = tokens.buoy;
    g.fillRect(p.box.x0, p.box.y0, p.box.x1 - p.box.x0, p.box.y1 - p.box.y0);
    g.strokeRect(p.box.x0, p.box.y0, p.box.x1 - p.box.x0, p.box.y1 - p.box.y0);
  }
}

function axes(g: Pen, p: Picture): void {
  const { x, left, right } = p;
  g.setLineDash([]);
  g.lineWidth = 1;
  const across = (t: number) => Math.round(toPixel(left, t)) + 0.5;
  for (const [scale, align, at] of [[left, "right", x.start - 7] as const, ...(right ? [[right, "left", x.end + 6] as const] : [])]) {
    const { values, apart } = marksOf(scale, Math.max(2, (scale.start - scale.end) / 28));
    g.textAlign = align;
    g.fillStyle = tokens.quiet;
    const unit = scale === left ? p.unit : p.rightUnit;
    const shown = spaced(values, apart, LABEL_HEIGHT);
    const high = shown.find((t) => unit !== "" && toPixel(scale, t) < scale.end + 14);
    // The unit stands where the topmost label would: beside it where both have room, else that one gives way.
    const room = x.start - 14 - (high === undefined ? 0 : g.measureText(format(high)).width);
    const isBeside = high !== undefined && scale === left && g.measureText(unit).width < room;
    for (const t of shown) {
      if (scale === left) {
        g.strokeStyle = "#EDEAE1";
        g.beginPath();
        g.moveTo(x.start, across(t));
        g.lineTo(x.end, across(t));
        g.stroke();
      }
      if (t !== high || isBeside) g.fillText(format(t), at, toPixel(scale, t) + 3.5);
    }
    g.fillStyle = tokens.faint;
    if (isBeside) {
      g.textAlign = "left";
      g.fillText(unit, 4, toPixel(scale, high) + 3.5);
    } else g.fillText(unit, at, scale.end + 8);
  }
  g.textAlign = "center";
  const read = { ...x, from: x.from / p.xScale, to: x.to / p.xScale };
  for (const t of marksOf(read, (x.end - x.start) / 90).values) {
    const at = toPixel(read, t);
    g.strokeStyle = "#F3F0E8";
    g.beginPath();
    g.moveTo(Math.round(at) + 0.5, left.end);
    g.lineTo(Math.round(at) + 0.5, left.start);
    g.stroke();
    g.fillStyle = tokens.quiet;
    // The unit stands before the first of them.
    const text = format(t);
    if (p.showX) g.fillText(text, Math.min(Math.max(at, x.start - 3 + g.measureText(text).width / 2), p.width - 18), left.start + 14);
  }
  if (p.showX && p.xUnit) {
    g.textAlign = "right";
    g.fillStyle = tokens.faint;
    g.fillText(p.xUnit, x.start - 7, left.start + 14);
  }
  g.strokeStyle = tokens.dashes;
  g.beginPath();
  g.moveTo(x.start + 0.5, left.end);
  g.lineTo(x.start + 0.5, left.start + 0.5);
  g.lineTo(x.end, left.start + 0.5);
  if (right) g.lineTo(x.end, left.end);
  g.stroke();
  g.fillStyle = tokens.quiet;
  for (const d of p.dots) if (d >= x.from && d <= x.to) g.fillRect(toPixel(x, d) - 1.5, toPixel(left, 0) - 1.5, 3, 3);
}

/** What happened when; of words that would meet the later one gives way. */
function events(g: Pen, p: Picture): void {
  const within = (t: number) => t >= p.x.from && t <= p.x.to;
  g.lineWidth = 1;
  g.textAlign = "left";
  g.setLineDash([]);
  g.strokeStyle = tokens.faint;
  g.beginPath();
  for (const t of p.ticks.filter(within)) {
    g.moveTo(toPixel(p.x, t), p.left.end - 2);
    g.lineTo(toPixel(p.x, t), p.left.end + 3);
  }
  g.stroke();
  let free = -Infinity;
  for (const e of p.events.filter((e) => within(e.at))) {
    const at = Math.round(toPixel(p.x, e.at)) + 0.5;
    g.setLineDash([2, 3]);
    g.strokeStyle = tokens.dashes;
    g.beginPath();
    g.moveTo(at, p.left.end);
    g.lineTo(at, p.left.start);
    g.stroke();
    if (e.text === "") continue;
    const width = g.measureText(e.text).width;
    // Near the right edge the word stands before its line.
    const from = at + 4 + width > p.x.end ? at - 4 - width : at + 4;
    if (from < Math.max(free, p.x.start)) continue;
    free = from + width + 4;
    g.fillStyle = tokens.quiet;
    g.fillText(e.text, from, p.left.end - 5);
  }
}

const HANDLE = 3;

function handle(g: Pen, p: Picture, { x, y }: { x: number; y: number }): void {
  g.setLineDash([]);
  g.strokeStyle = tokens.ink;
  g.lineWidth = 1.2;
  g.beginPath();
  g.arc(toPixel(p.x, x), toPixel(p.left, y), HANDLE, 0, 7);
  g.fill();
  g.stroke();
}

/** Depth of the hatching behind a limit, and distance of its strokes. */
const HATCH = 7;
const STROKES = 6;

/** A level; beyond a limit the plot is hatched as land is. */
function rule(g: Pen, p: Picture, r: Rule): void {
  const y = toPixel(p.left, r.value);
  const [from, to] = [toPixel(p.x, Math.max(r.from, p.x.from)), toPixel(p.x, Math.min(r.to, p.x.to))];
  if (!(to > from)) return;
  g.strokeStyle = r.color;
  g.setLineDash(r.once ? [8, 4] : [2, 3]);
  g.lineWidth = 1.3;
  g.beginPath();
  g.moveTo(from, y);
  g.lineTo(to, y);
  g.stroke();
  if (!r.beyond) return;
  const depth = r.beyond === "above" ? -HATCH : HATCH;
  g.setLineDash([]);
  g.lineWidth = 0.8;
  g.globalAlpha = 0.55;
  g.beginPath();
  for (let x = from + STROKES / 2; x + HATCH <= to; x += STROKES) {
    g.moveTo(x, y);
    g.lineTo(x + HATCH, y + depth);
  }
  g.stroke();
  g.globalAlpha = 1;
}

function curve(g: Pen, p: Picture, l: Line): void {
  const y = l.right && p.right ? p.right : p.left;
  const scale = l.scale ?? 1;
  const shift = l.shift ?? 0;
  g.globalAlpha = l.opacity ?? 1;
  if (l.upTo) return between(g, p, l, y, l.upTo);
  g.strokeStyle = l.color;
  g.lineWidth = l.width ?? 1.6;
  g.setLineDash([...(l.dash ?? [])]);
  g.beginPath();
  let before = NaN;
  for (let i = 0; i < l.x.length; i++) {
    const px = toPixel(p.x, l.x[i] as number);
    const py = toPixel(y, (l.y[i] as number) * scale + shift);
    // Where nothing was measured, or nothing can be drawn, the line is interrupted.
    if (!Number.isFinite(px) || !Number.isFinite(py)) {
      before = NaN;
      continue;
    }
    if (Number.isNaN(before)) g.moveTo(px, py);
    else {
      if (l.steps) g.lineTo(px, before);
      g.lineTo(px, py);
    }
    before = py;
  }
  g.stroke();
  g.globalAlpha = 1;
}

/** Fills what lies between two courses. */
function between(g: Pen, p: Picture, l: Line, y: Scale, upTo: ArrayLike<number>): void {
  const at = (values: ArrayLike<number>, i: number) => [
    toPixel(p.x, l.x[i] as number),
    toPixel(y, (values[i] as number) * (l.scale ?? 1) + (l.shift ?? 0)),
  ];
  const corners: number[][] = [];
  for (let i = 0; i < l.x.length; i++) corners.push(at(l.y, i));
  for (let i = l.x.length - 1; i >= 0; i--) corners.push(at(upTo, i));
  g.fillStyle = l.color;
  g.beginPath();
  corners
    .filter(([px, py]) => Number.isFinite(px) && Number.isFinite(py))
    .forEach(([px, py], i) => (i === 0 ? g.moveTo(px as number, py as number) : g.lineTo(px as number, py as number)));
  g.fill();
  g.globalAlpha = 1;
}

function mark(g: Pen, p: Picture, m: Mark): void {
  if (m.at < p.x.from || m.at > p.x.to) return;
  const at = toPixel(p.x, m.at);
  g.setLineDash([]);
  g.strokeStyle = m.color;
  g.lineWidth = 1.2;
  g.beginPath();
  g.moveTo(at, p.left.end - 4);
  g.lineTo(at, p.left.start);
  g.stroke();
  if (!m.label || !p.showX) return;
  g.fillStyle = m.color;
  g.beginPath();
  g.roundRect(at - 7, p.left.start + 3, 14, 14, 3);
  g.fill();
  g.fillStyle = tokens.surface;
  g.textAlign = "center";
  g.fillText(m.label, at, p.left.start + 13.5);
}

function note(g: Pen, p: Picture, { x, y, text }: Pin): void {
  const px = toPixel(p.x, x);
  const py = toPixel(p.left, y);
  if (px < p.x.start || px > p.x.end || py < p.left.end || py > p.left.start) return;
  g.font = '11px "IBM Plex Sans", sans-serif';
  const width = g.measureText(text).width + 10;
  const at = Math.min(px + 12, p.x.end - width);
  const top = Math.max(p.left.end, py - 30);
  g.setLineDash([]);
  g.strokeStyle = tokens.edge;
  g.lineWidth = 1;
  g.beginPath();
  g.moveTo(px, py);
  g.lineTo(at, top + 9);
  g.stroke();
  g.fillStyle = tokens["caution-wash"];
  g.fillRect(at, top, width, 18);
  g.strokeRect(at + 0.5, top + 0.5, width - 1, 17);
  g.fillStyle = tokens.ink;
  g.beginPath();
  g.arc(px, py, 2.5, 0, 7);
  g.fill();
  g.textAlign = "left";
  g.fillText(text, at + 5, top + 13);
  g.font = FONT;
}
