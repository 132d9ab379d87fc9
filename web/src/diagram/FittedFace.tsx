import { useLayoutEffect, useRef, type ReactNode } from "react";

/** A face that shrinks until it lies within its frame. */
export function FittedFace({ className, least, children }: { className: string; least: number; children: ReactNode }) {
  const box = useRef<HTMLSpanElement>(null);
  useLayoutEffect(() => {
    const frame = box.current;
    const inner = frame?.firstElementChild as HTMLElement | null;
    if (!frame || !inner) return;
    inner.style.transform = "";
    const scale = Math.min(
      1,
      (frame.clientWidth - 6) / Math.max(1, inner.offsetWidth),
      (frame.clientHeight - 4) / Math.max(1, inner.offsetHeight),
    );
    if (scale < 1) inner.style.transform = `scale(${Math.max(scale, least)})`;
  });
  return (
    <span className={className} ref={box}>
      {children}
    </span>
  );
}
