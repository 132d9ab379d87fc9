import classNames from "classnames/bind";
import { memo, useEffect, useLayoutEffect, useRef, useState } from "react";
import { format } from "../ui/format";
import { decades, extent, spaced, ticks } from "./ticks";
import styles from "./plots.module.css";

const cx = classNames.bind(styles);

export interface Line {
  x: ArrayLike<number>;
  y: ArrayLike<number>;
  color: string;
  width?: number;
  dash?: number[];
  opacity?: number;
  scale?: number;
  shift?: number;
}

export interface Rule {
  from: number;
  to: number;
  value: number;
  color: string;
}

interface Props {
  label: string;
  lines: Line[];
  rules?: Rule[];
  x: [number, number];
  y?: [number, number];
  logX?: boolean;
  unit: string;
  xUnit?: string;
  showX: boolean;
  cursor: number | null;
  marks?: number[];
  onCursor?: (x: number | null) => void;
  onZoom?: (x: [number, number]) => void;
  onFit?: () => void;
}

const LEFT = 62;
const RIGHT = 14;
const LABEL_HEIGHT = 12;

/** Curves over one axis on a canvas: box zoom by dragging, double-click to fit, click to set the cursor. */
export const Plot = memo(function Plot(p: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState({ width: 600, height: 120 });
  const [yZoom, setYZoom] = useState<[number, number] | null>(null);
  const [drag, setDrag] = useState<{ x0: number; y0: number; x1: number; y1: number } | null>(null);

  useLayoutEffect(() => {
    const host = canvas.current?.parentElement;
    if (!host) return;
    const watch = new ResizeObserver(() => setSize({ width: host.clientWidth, height: host.clientHeight }));
    watch.observe(host);
    setSize({ width: host.clientWidth, height: host.clientHeight });
    return () => watch.disconnect();
  }, []);

  const bottom = size.height - (p.showX ? 20 : 6);
  const top = 6;
  const [x0, x1] = p.x;
  const toX = (v: number) => LEFT + (p.logX ? Math.log(v / x0) / Math.log(x1 / x0) : (v - x0) / (x1 - x0)) * (size.width - LEFT - RIGHT);
  const fromX = (px: number) => {
    const part = Math.min(1, Math.max(0, (px - LEFT) / (size.width - LEFT - RIGHT)));
    return p.logX ? x0 * (x1 / x0) ** part : x0 + part * (x1 - x0);
  };
  const [y0, y1] = yZoom ?? p.y ?? rangeOf(p.lines, p.rules ?? [], x0, x1);
  const toY = (v: number) => bottom - ((v - y0) / (y1 - y0)) * (bottom - top);
  const fromY = (py: number) => y0 + ((bottom - py) / (bottom - top)) * (y1 - y0);

  useEffect(() => {
    const element = canvas.current;
    const g = element?.getContext("2d");
    if (!element || !g) return;
    const ratio = window.devicePixelRatio || 1;
    element.width = Math.round(size.width * ratio);
    element.height = Math.round(size.height * ratio);
    g.setTransform(ratio, 0, 0, ratio, 0, 0);
    g.clearRect(0, 0, size.width, size.height);
    g.font = '10.5px "IBM Plex Mono"';
    g.lineJoin = "round";
    axes(g);
    g.save();
    g.beginPath();
    g.rect(LEFT, top - 2, size.width - LEFT - RIGHT, bottom - top + 4);
    g.clip();
    for (const r of p.rules ?? []) {
      g.strokeStyle = r.color;
      g.setLineDash([2, 3]);
      g.lineWidth = 1.3;
      g.beginPath();
      g.moveTo(toX(Math.max(r.from, x0)), toY(r.value));
      g.lineTo(toX(Math.min(r.to, x1)), toY(r.value));
      g.stroke();
    }
    for (const l of p.lines) draw(g, l);
    g.restore();
    if (p.cursor !== null && p.cursor >= x0 && p.cursor <= x1) {
      g.setLineDash([]);
      g.strokeStyle = "#D9481C";
      g.lineWidth = 1.2;
      g.beginPath();
      g.moveTo(toX(p.cursor), top - 4);
      g.lineTo(toX(p.cursor), bottom);
      g.stroke();
    }
    if (drag) {
      g.fillStyle = "#D9481C1A";
      g.strokeStyle = "#D9481C";
      g.setLineDash([]);
      g.fillRect(drag.x0, drag.y0, drag.x1 - drag.x0, drag.y1 - drag.y0);
      g.strokeRect(drag.x0, drag.y0, drag.x1 - drag.x0, drag.y1 - drag.y0);
    }

    function axes(c: CanvasRenderingContext2D) {
      c.setLineDash([]);
      c.lineWidth = 1;
      c.fillStyle = "#5B6E80";
      c.textAlign = "right";
      const levels = ticks(y0, y1, Math.max(2, (bottom - top) / 28));
      const apart = levels.length > 1 ? Math.abs(toY(levels[1] as number) - toY(levels[0] as number)) : Infinity;
      for (const t of spaced(levels, apart, LABEL_HEIGHT)) {
        c.strokeStyle = "#EDEAE1";
        c.beginPath();
        c.moveTo(LEFT, Math.round(toY(t)) + 0.5);
        c.lineTo(size.width - RIGHT, Math.round(toY(t)) + 0.5);
        c.stroke();
        c.fillText(format(t), LEFT - 7, toY(t) + 3.5);
      }
      c.textAlign = "center";
      for (const t of p.logX ? decades(x0, x1) : ticks(x0, x1, (size.width - LEFT) / 90)) {
        c.strokeStyle = "#F3F0E8";
        c.beginPath();
        c.moveTo(Math.round(toX(t)) + 0.5, top);
        c.lineTo(Math.round(toX(t)) + 0.5, bottom);
        c.stroke();
        if (p.showX) c.fillText(format(t), Math.min(toX(t), size.width - 22), bottom + 14);
      }
      if (p.showX && p.xUnit) {
        c.textAlign = "right";
        c.fillStyle = "#8A97A3";
        c.fillText(p.xUnit, LEFT - 7, bottom + 14);
      }
      c.strokeStyle = "#B9C2C9";
      c.beginPath();
      c.moveTo(LEFT + 0.5, top);
      c.lineTo(LEFT + 0.5, bottom + 0.5);
      c.lineTo(size.width - RIGHT, bottom + 0.5);
      c.stroke();
      for (const m of p.marks ?? []) {
        if (m < x0 || m > x1) continue;
        c.fillStyle = "#5B6E80";
        c.fillRect(toX(m) - 1.5, toY(0) - 1.5, 3, 3);
      }
      c.textAlign = "left";
      c.fillStyle = "#8A97A3";
      c.fillText(p.unit, 6, top + 9);
    }

    function draw(c: CanvasRenderingContext2D, l: Line) {
      const scale = l.scale ?? 1;
      const shift = l.shift ?? 0;
      c.globalAlpha = l.opacity ?? 1;
      c.strokeStyle = l.color;
      c.lineWidth = l.width ?? 1.6;
      c.setLineDash(l.dash ?? []);
      c.beginPath();
      for (let i = 0; i < l.x.length; i++) {
        const px = toX(l.x[i] as number);
        const py = toY((l.y[i] as number) * scale + shift);
        if (i === 0) c.moveTo(px, py);
        else c.lineTo(px, py);
      }
      c.stroke();
      c.globalAlpha = 1;
    }
  });

  const local = (e: React.PointerEvent) => {
    const box = canvas.current?.getBoundingClientRect();
    return { x: e.clientX - (box?.left ?? 0), y: e.clientY - (box?.top ?? 0) };
  };

  return (
    <div className={cx("plot")}>
      <canvas
        ref={canvas}
        role="img"
        aria-label={p.label}
        style={{ width: size.width, height: size.height }}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          const at = local(e);
          setDrag({ x0: at.x, y0: at.y, x1: at.x, y1: at.y });
        }}
        onPointerMove={(e) => {
          if (!drag) return;
          const at = local(e);
          setDrag({ ...drag, x1: at.x, y1: at.y });
        }}
        onPointerUp={(e) => {
          const at = local(e);
          setDrag(null);
          if (!drag) return;
          if (Math.abs(at.x - drag.x0) < 5 || !p.onZoom) p.onCursor?.(fromX(at.x));
          else {
            const a = fromX(Math.min(at.x, drag.x0));
            const b = fromX(Math.max(at.x, drag.x0));
            if (Math.abs(at.y - drag.y0) > 12) setYZoom([fromY(Math.max(at.y, drag.y0)), fromY(Math.min(at.y, drag.y0))]);
            p.onZoom([a, b]);
          }
        }}
        onDoubleClick={() => {
          setYZoom(null);
          p.onFit?.();
        }}
      />
    </div>
  );
});

function rangeOf(lines: Line[], rules: Rule[], x0: number, x1: number): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  for (const l of lines)
    for (let i = 0; i < l.y.length; i++) {
      const x = l.x[i] as number;
      if (x < x0 || x > x1) continue;
      const v = (l.y[i] as number) * (l.scale ?? 1) + (l.shift ?? 0);
      if (v < low) low = v;
      if (v > high) high = v;
    }
  for (const r of rules) {
    // A limit far away must not flatten the curve.
    const span = Math.max(high - low, 1e-12);
    if (r.value > high && r.value < high + 1.5 * span) high = r.value;
    if (r.value < low && r.value > low - 1.5 * span) low = r.value;
  }
  return extent(low, high);
}
