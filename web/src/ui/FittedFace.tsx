import { useLayoutEffect, useRef, type ReactNode } from "react";

interface Props {
  className: string;
  /** Smallest scale; a face that is larger still is cut off. */
  least: number;
  /** What the size depends on; measured again only when this changes. */
  of: string;
  children: ReactNode;
}

/** A face that shrinks until it lies within its frame. */
export function FittedFace({ className, least, of, children }: Props) {
  const box = useRef<HTMLSpanElement>(null);
  useLayoutEffect(() => {
    const frame = box.current;
    const inner = frame?.firstElementChild as HTMLElement | null;
    if (!frame || !inner) return;
    let gone = false;
    const fit = () => {
      inner.style.transform = "";
      const scale = Math.min(
        1,
        (frame.clientWidth - 6) / Math.max(1, inner.offsetWidth),
        (frame.clientHeight - 4) / Math.max(1, inner.offsetHeight),
      );
      if (scale < 1) inner.style.transform = `scale(${Math.max(scale, least)})`;
    };
    fit();
    // Measuring is what makes a font come; with it the text is wider or narrower than with the one that stood in.
    if (document.fonts.status === "loading") void document.fonts.ready.then(() => gone || fit());
    return () => {
      gone = true;
    };
  }, [of, least]);
  return (
    <span className={className} ref={box}>
      {children}
    </span>
  );
}
