import classNames from "classnames/bind";
import { memo, useEffect, useLayoutEffect, useRef, useState } from "react";
import { rangeOf, type Line, type Rule } from "./curves";
import { paint, type Mark, type Pin, type Picture } from "./paint";
import { fromPixel, moved, zoomed, type Scale } from "./scale";
import styles from "./plots.module.css";

export type { Line, Rule } from "./curves";
export type { Mark, Pin } from "./paint";

const cx = classNames.bind(styles);

export type Range = [number, number];

interface Props {
  label: string;
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
  showX: boolean;
  cursor?: number | null;
  marks?: readonly Mark[];
  events?: readonly { at: number; text: string }[];
  pins?: readonly Pin[];
  dots?: readonly number[];
  /** Room for the axis at the right in every plot of a column, so that they stand below each other. */
  hasRight?: boolean;
  onCursor?: (x: number | null) => void;
  /** A click with Shift. */
  onMark?: (x: number) => void;
  /** A stretch was chosen; y only where the box was as high. */
  onZoom?: (x: Range, y: Range | null) => void;
  onFit?: () => void;
  /** A double click with Shift: a point to say something of. */
  onPin?: (x: number, y: number) => void;
  /** A click, with both coordinates: where points are drawn. */
  onPoint?: (x: number, y: number) => void;
}

const LEFT = 62;
const RIGHT = 14;
const RIGHT_AXIS = 48;
const TOP = 6;

/** How far a wheel's notch looks closer, and an arrow key moves. */
const NOTCH = 1.2;
const NUDGE = 0.1;

const none: never[] = [];

/**
 * Curves over one axis on a canvas. A drag chooses a box, the wheel looks closer, a drag with the middle button or with Shift moves, a click
 * sets the instant, a double click shows all. With the keyboard: arrows move, + and − look closer, 0 shows all.
 */
export const Plot = memo(function Plot(p: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState({ width: 600, height: 120 });
  const [drag, setDrag] = useState<{ x0: number; y0: number; x1: number; y1: number; moves: boolean; x: Range } | null>(null);

  useLayoutEffect(() => {
    const host = canvas.current?.parentElement;
    if (!host) return;
    const watch = new ResizeObserver(() => setSize({ width: host.clientWidth, height: host.clientHeight }));
    watch.observe(host);
    setSize({ width: host.clientWidth, height: host.clientHeight });
    return () => watch.disconnect();
  }, []);

  const bottom = size.height - (p.showX ? 20 : 6);
  const hasRight = p.lines.some((l) => l.right);
  const x: Scale = {
    from: p.x[0],
    to: p.x[1],
    start: LEFT,
    end: size.width - (hasRight || p.hasRight ? RIGHT_AXIS : RIGHT),
    logarithmic: p.logX === true,
  };
  const vertical = (range: Range | undefined, lines: readonly Line[], rules: readonly Rule[], logarithmic: boolean): Scale => {
    const [from, to] = range ?? rangeOf(lines, rules, x.from, x.to, logarithmic);
    return { from, to, start: bottom, end: TOP, logarithmic };
  };
  const left = vertical(
    p.y,
    p.lines.filter((l) => !l.right),
    p.rules ?? none,
    p.logY === true,
  );
  const right = hasRight
    ? vertical(
        p.right,
        p.lines.filter((l) => l.right),
        none,
        p.logRight === true,
      )
    : null;
  const picture: Picture = {
    ...size,
    x,
    left,
    right,
    lines: p.lines,
    rules: p.rules ?? none,
    marks: [...(p.marks ?? none), ...(p.cursor === null || p.cursor === undefined ? none : [{ at: p.cursor, color: "#D9481C" }])],
    events: p.events ?? none,
    pins: p.pins ?? none,
    dots: p.dots ?? none,
    unit: p.unit,
    rightUnit: p.rightUnit ?? "",
    xUnit: p.xUnit ?? "",
    showX: p.showX,
    box: drag && !drag.moves ? drag : null,
  };

  useEffect(() => {
    const element = canvas.current;
    const g = element?.getContext("2d");
    if (!element || !g) return;
    const ratio = window.devicePixelRatio || 1;
    element.width = Math.round(size.width * ratio);
    element.height = Math.round(size.height * ratio);
    g.setTransform(ratio, 0, 0, ratio, 0, 0);
    paint(g, picture);
  });

  const within = (px: number) => Math.min(x.end, Math.max(x.start, px));
  const local = (e: { clientX: number; clientY: number }) => {
    const box = canvas.current?.getBoundingClientRect();
    return { x: e.clientX - (box?.left ?? 0), y: e.clientY - (box?.top ?? 0) };
  };
  const zoom = useRef(p.onZoom);
  zoom.current = p.onZoom;
  const scale = useRef(x);
  scale.current = x;
  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    // React's own listener cannot keep the page from scrolling.
    const wheel = (e: WheelEvent) => {
      if (!zoom.current || e.deltaY === 0) return;
      e.preventDefault();
      const at = fromPixel(scale.current, e.clientX - element.getBoundingClientRect().left);
      zoom.current(zoomed(scale.current, at, e.deltaY > 0 ? NOTCH : 1 / NOTCH), null);
    };
    element.addEventListener("wheel", wheel, { passive: false });
    return () => element.removeEventListener("wheel", wheel);
  }, []);

  return (
    <div className={cx("plot")}>
      <canvas
        ref={canvas}
        role="img"
        tabIndex={p.onZoom ? 0 : undefined}
        aria-label={p.label}
        style={{ width: size.width, height: size.height }}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          const at = local(e);
          setDrag({ x0: at.x, y0: at.y, x1: at.x, y1: at.y, moves: e.button === 1 || e.shiftKey, x: p.x });
        }}
        onPointerMove={(e) => {
          if (!drag) return;
          const at = local(e);
          setDrag({ ...drag, x1: at.x, y1: at.y });
          if (drag.moves && p.onZoom && Math.abs(at.x - drag.x0) > 3) {
            const from = { ...x, from: drag.x[0], to: drag.x[1] };
            p.onZoom(moved(from, (drag.x0 - at.x) / (x.end - x.start)), null);
          }
        }}
        onPointerUp={(e) => {
          const at = local(e);
          setDrag(null);
          if (!drag) return;
          const isClick = Math.abs(at.x - drag.x0) < 5 && Math.abs(at.y - drag.y0) < 12;
          if (isClick || !p.onZoom) {
            const value = fromPixel(x, within(at.x));
            if (p.onPoint) p.onPoint(value, fromPixel(left, at.y));
            else if (drag.moves) p.onMark?.(value);
            else p.onCursor?.(value);
          } else if (!drag.moves) {
            const [a, b] = [fromPixel(x, within(Math.min(at.x, drag.x0))), fromPixel(x, within(Math.max(at.x, drag.x0)))];
            const isHigh = Math.abs(at.y - drag.y0) > 12;
            const y: Range | null = isHigh ? [fromPixel(left, Math.max(at.y, drag.y0)), fromPixel(left, Math.min(at.y, drag.y0))] : null;
            p.onZoom(Math.abs(at.x - drag.x0) < 5 ? p.x : [a, b], y);
          }
        }}
        onDoubleClick={(e) => {
          const at = local(e);
          if (e.shiftKey && p.onPin) p.onPin(fromPixel(x, at.x), fromPixel(left, at.y));
          else p.onFit?.();
        }}
        onKeyDown={(e) => {
          if (!p.onZoom || e.ctrlKey || e.metaKey || e.altKey) return;
          const middle = fromPixel(x, (x.start + x.end) / 2);
          if (e.key === "ArrowLeft") p.onZoom(moved(x, -NUDGE), null);
          else if (e.key === "ArrowRight") p.onZoom(moved(x, NUDGE), null);
          else if (e.key === "+" || e.key === "=") p.onZoom(zoomed(x, middle, 1 / NOTCH), null);
          else if (e.key === "-") p.onZoom(zoomed(x, middle, NOTCH), null);
          else if (e.key === "0") p.onFit?.();
          else return;
          e.preventDefault();
          e.stopPropagation();
        }}
      />
    </div>
  );
});
