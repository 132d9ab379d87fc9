import { useEffect, useState, type RefObject } from "react";
import type { PartDrawing, PreviewInk, PreviewLabel } from "../../scene/PartDrawing";

/** A drawing on a canvas, fetched when the first is wanted: few parts have one. */
export function useDrawing(
  canvas: RefObject<HTMLCanvasElement | null>,
  ink: PreviewInk,
  tell: (labels: readonly PreviewLabel[]) => void,
): PartDrawing | null {
  const [drawing, setDrawing] = useState<PartDrawing | null>(null);
  useEffect(() => {
    let made: PartDrawing | null = null;
    let gone = false;
    const observer = new ResizeObserver(([entry]) => {
      if (entry) made?.resize(entry.contentRect.width, entry.contentRect.height);
    });
    void import("../../scene/PartDrawing").then(({ PartDrawing: Drawing }) => {
      const on = canvas.current;
      if (gone || !on) return;
      made = new Drawing(on, ink, tell);
      made.resize(on.clientWidth, on.clientHeight);
      observer.observe(on);
      setDrawing(made);
    });
    return () => {
      gone = true;
      observer.disconnect();
      made?.dispose();
    };
  }, [canvas, ink, tell]);
  return drawing;
}
