import { useCallback, useEffect, useLayoutEffect, useRef, useState, type RefObject } from "react";
import { frameOf, isSameRect, revealing, type Size } from "./culling";
import { inView } from "./freePlace";
import { boundsOf } from "./geometry";
import type { Rect } from "./hitIndex";
import { toDiagram, zoomAt, type Viewport } from "./viewport";

/** Below these zooms detail falls away: first formulas, then names. */
const LOW = 0.35;
const MIDDLE = 0.6;

/** How each level was looked at last, by model and level. */
const remembered = new Map<string, Viewport>();

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

/** What is looked at: all that has a place, and the place of one thing. */
export interface Content {
  boxes: () => { x: number; y: number; width: number; height: number }[];
  boxOf: (id: string) => { x: number; y: number; width: number; height: number } | null;
}

/** The part of the diagram that is in view, which is remembered under the name of the place. Moving it touches one element; React hears of it when other parts come into view. */
export function useViewport(
  host: RefObject<HTMLDivElement | null>,
  world: RefObject<HTMLDivElement | null>,
  content: Content,
  place: string,
  onShow: RefObject<() => void>,
): ViewportControl {
  const viewport = useRef<Viewport>({ x: 0, y: 0, zoom: 1 });
  const [zoom, setZoom] = useState(1);
  const [frame, setFrame] = useState<Rect | null>(null);
  const size = useCallback((): Size => host.current?.getBoundingClientRect() ?? { width: 800, height: 600 }, [host]);

  const show = useCallback(
    (v: Viewport) => {
      viewport.current = v;
      remembered.set(place, v);
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
    [host, world, size, onShow, place],
  );

  const fit = useCallback(() => {
    const box = size();
    const b = boundsOf(content.boxes());
    const z = Math.min(1, (box.width - 48) / b.width, (box.height - 76) / b.height);
    show({ zoom: z, x: (box.width - b.width * z) / 2 - b.x * z, y: (box.height - b.height * z) / 2 - b.y * z + 18 });
  }, [show, size, content]);

  const reveal = useCallback(
    (id: string) => {
      const found = content.boxOf(id);
      if (!found) return;
      const box = { minX: found.x, minY: found.y - 12, maxX: found.x + found.width, maxY: found.y + found.height };
      const next = revealing(viewport.current, size(), box);
      if (next.x !== viewport.current.x || next.y !== viewport.current.y) show(next);
    },
    [show, size, content],
  );

  const placed = useRef(false);
  useLayoutEffect(() => {
    if (placed.current) return;
    placed.current = true;
    const last = remembered.get(place);
    if (last) show(last);
    else fit();
  }, [fit, show, place]);

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
