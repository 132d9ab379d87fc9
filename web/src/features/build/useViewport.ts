import { useCallback, useEffect, useLayoutEffect, useRef, useState, type RefObject } from "react";
import type { PartView } from "../../api/client";
import { frameOf, isSameRect, revealing, type Size } from "../../canvas/culling";
import { inView } from "../../canvas/freePlace";
import { boundsOf } from "../../canvas/geometry";
import type { Rect } from "../../canvas/hitIndex";
import { toDiagram, zoomAt, type Viewport } from "../../canvas/viewport";
import { useBench } from "../../state/bench";

/** Below these zooms detail falls away: first formulas, then names. */
const LOW = 0.35;
const MIDDLE = 0.6;

/** How each level was looked at last, by model and level. */
const remembered = new Map<string, Viewport>();
const place = () => `${useBench.getState().id} ${useBench.getState().level}`;

export interface ViewportControl {
  viewport: RefObject<Viewport>;
  zoom: number;
  /** What is mounted, in diagram pixels; null until the first layout. */
  frame: Rect | null;
  size: () => Size;
  show: (v: Viewport) => void;
  fit: () => void;
  reveal: (id: string) => void;
  toDiagram: (e: { clientX: number; clientY: number }) => { x: number; y: number };
}

/** The part of the diagram that is in view. Moving it touches one element; React hears of it when other parts come into view. */
export function useViewport(
  host: RefObject<HTMLDivElement | null>,
  world: RefObject<HTMLDivElement | null>,
  views: Record<string, PartView>,
  onShow: RefObject<() => void>,
): ViewportControl {
  const viewport = useRef<Viewport>({ x: 0, y: 0, zoom: 1 });
  const [zoom, setZoom] = useState(1);
  const [frame, setFrame] = useState<Rect | null>(null);
  const size = useCallback((): Size => host.current?.getBoundingClientRect() ?? { width: 800, height: 600 }, [host]);

  const show = useCallback(
    (v: Viewport) => {
      viewport.current = v;
      remembered.set(place(), v);
      const box = size();
      inView.middle = toDiagram(v, { x: box.width / 2, y: box.height / 2 });
      if (world.current) world.current.style.transform = `translate(${v.x}px, ${v.y}px) scale(${v.zoom})`;
      if (host.current) {
        host.current.style.backgroundPosition = `${v.x}px ${v.y}px`;
        host.current.style.backgroundSize = `${16 * v.zoom}px ${16 * v.zoom}px`;
        host.current.dataset.detail = v.zoom < LOW ? "low" : v.zoom < MIDDLE ? "middle" : "high";
      }
      setZoom(v.zoom);
      const next = frameOf(v, box);
      setFrame((before) => (isSameRect(before, next) ? before : next));
      onShow.current();
    },
    [host, world, size, onShow],
  );

  const fit = useCallback(() => {
    const box = size();
    const { diagram: d } = useBench.getState();
    const b = boundsOf([
      ...Object.entries(d.parts).map(([id, p]) => ({
        x: p.x,
        y: p.y - 12,
        width: views[id]?.width ?? 64,
        height: (views[id]?.height ?? 48) + 12,
      })),
      ...Object.values(d.areas),
      ...Object.values(d.wires).flatMap((w) => w.bends.map((p) => ({ ...p, width: 0, height: 0 }))),
    ]);
    const z = Math.min(1, (box.width - 48) / b.width, (box.height - 76) / b.height);
    show({ zoom: z, x: (box.width - b.width * z) / 2 - b.x * z, y: (box.height - b.height * z) / 2 - b.y * z + 18 });
  }, [show, size, views]);

  const reveal = useCallback(
    (id: string) => {
      const node = useBench.getState().diagram.parts[id];
      const view = views[id];
      if (!node || !view) return;
      const box = { minX: node.x, minY: node.y - 12, maxX: node.x + view.width, maxY: node.y + view.height };
      const next = revealing(viewport.current, size(), box);
      if (next.x !== viewport.current.x || next.y !== viewport.current.y) show(next);
    },
    [show, size, views],
  );

  const placed = useRef(false);
  useLayoutEffect(() => {
    if (placed.current) return;
    placed.current = true;
    const last = remembered.get(place());
    if (last) show(last);
    else fit();
  }, [fit, show]);

  // What was in the middle stays there when a pane opens beside it.
  useEffect(() => {
    const element = host.current;
    if (!element) return;
    let before = element.clientWidth;
    const observer = new ResizeObserver(() => {
      const by = element.clientWidth - before;
      before = element.clientWidth;
      const v = viewport.current;
      if (by !== 0) show({ ...v, x: v.x + by / 2 });
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, [show, host]);

  // The wheel must not scroll the page, which only a listener that is not passive can prevent.
  useEffect(() => {
    const element = host.current;
    if (!element) return;
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const box = element.getBoundingClientRect();
      const at = { x: e.clientX - box.left, y: e.clientY - box.top };
      if (e.shiftKey) show({ ...viewport.current, x: viewport.current.x - e.deltaY });
      else show(zoomAt(viewport.current, at, Math.exp(-e.deltaY * 0.0015)));
    };
    element.addEventListener("wheel", wheel, { passive: false });
    return () => element.removeEventListener("wheel", wheel);
  }, [show, host]);

  const at = useCallback(
    (e: { clientX: number; clientY: number }) => {
      const box = host.current?.getBoundingClientRect();
      return toDiagram(viewport.current, { x: e.clientX - (box?.left ?? 0), y: e.clientY - (box?.top ?? 0) });
    },
    [host],
  );

  return { viewport, zoom, frame, size, show, fit, reveal, toDiagram: at };
}
