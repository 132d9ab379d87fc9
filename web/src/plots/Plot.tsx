import classNames from "classnames/bind";
import { memo, useEffect, useLayoutEffect, useRef, useState } from "react";
import { paint } from "./paint";
import { setPainter } from "./pen";
import { pictureOf, type PlotContent, type Range } from "./picture";
import { fromPixel, moved, toPixel, zoomed } from "./scale";
import styles from "./plots.module.css";

export type { Line, Rule } from "./curves";
export type { Mark, Pin } from "./paint";
export type { Range } from "./picture";

const cx = classNames.bind(styles);

interface Props extends PlotContent {
  label: string;
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
  /** A point was taken hold of and put elsewhere, or taken away with a double click. */
  onHandle?: (index: number, x: number, y: number) => void;
  onHandleRemove?: (index: number) => void;
}

/** How far a wheel's notch looks closer, and an arrow key moves. */
const NOTCH = 1.2;
const NUDGE = 0.1;

/** How near a point has to be to be taken hold of, in px. */
const NEAR = 8;

interface Drag {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
  /** Whether the plot is moved; else a box is chosen. */
  moves: boolean;
  x: Range;
  /** The point that is dragged. */
  handle: number | null;
}

const isNear = (at: { x: number; y: number }, x: number, y: number) => Math.hypot(at.x - x, at.y - y) <= NEAR;

/**
 * Curves over one axis on a canvas. A drag chooses a box, the wheel looks closer, a drag with the middle button or with Shift moves, a click
 * sets the instant, a double click shows all. With the keyboard: arrows move, + and − look closer, 0 shows all.
 */
export const Plot = memo(function Plot(p: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState({ width: 600, height: 120 });
  const [drag, setDrag] = useState<Drag | null>(null);

  useLayoutEffect(() => {
    const host = canvas.current?.parentElement;
    if (!host) return;
    const watch = new ResizeObserver(() => setSize({ width: host.clientWidth, height: host.clientHeight }));
    watch.observe(host);
    setSize({ width: host.clientWidth, height: host.clientHeight });
    return () => watch.disconnect();
  }, []);

  const { x, left } = pictureOf(p, size.width, size.height);
  const moving = drag?.handle ?? null;
  const content: PlotContent =
    drag && moving !== null
      ? { ...p, handles: p.handles?.map((h, i) => (i === moving ? { x: fromPixel(x, drag.x1), y: fromPixel(left, drag.y1) } : h)) ?? [] }
      : p;

  useEffect(() => {
    const element = canvas.current;
    const g = element?.getContext("2d");
    if (!element || !g) return;
    const ratio = window.devicePixelRatio || 1;
    element.width = Math.round(size.width * ratio);
    element.height = Math.round(size.height * ratio);
    g.setTransform(ratio, 0, 0, ratio, 0, 0);
    paint(g, { ...pictureOf(content, size.width, size.height), box: drag && !drag.moves && moving === null ? drag : null });
    setPainter(element, (pen, width, height) => paint(pen, pictureOf(p, width, height)));
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
          const held = p.onHandle ? (p.handles ?? []).findIndex((h) => isNear(at, toPixel(x, h.x), toPixel(left, h.y))) : -1;
          setDrag({
            x0: at.x,
            y0: at.y,
            x1: at.x,
            y1: at.y,
            moves: e.button === 1 || e.shiftKey,
            x: p.x,
            handle: held < 0 ? null : held,
          });
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
          if (drag.handle !== null) {
            if (at.x !== drag.x0 || at.y !== drag.y0) p.onHandle?.(drag.handle, fromPixel(x, within(at.x)), fromPixel(left, at.y));
            return;
          }
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
          const held = p.onHandleRemove ? (p.handles ?? []).findIndex((h) => isNear(at, toPixel(x, h.x), toPixel(left, h.y))) : -1;
          if (held >= 0) p.onHandleRemove?.(held);
          else if (e.shiftKey && p.onPin) p.onPin(fromPixel(x, at.x), fromPixel(left, at.y));
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
