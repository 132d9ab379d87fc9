import classNames from "classnames/bind";
import { useEffect, useLayoutEffect, useRef, type RefObject } from "react";
import { viewOf, type Size } from "./culling";
import type { HitIndex } from "./hitIndex";
import { paintFar, type FarScene } from "./paint";
import type { Viewport } from "./viewport";
import styles from "./canvas.module.css";

const cx = classNames.bind(styles);

interface Props {
  scene: Omit<FarScene, "visible">;
  index: HitIndex;
  viewport: RefObject<Viewport>;
  size: () => Size;
  /** Is called whenever the view moves. */
  onShow: RefObject<() => void>;
}

/** The diagram from far away, where there are more parts in view than elements would serve: painted, once a frame at most. */
export function FarCanvas({ scene, index, viewport, size, onShow }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const waiting = useRef(0);
  const paint = useRef(() => {});
  useLayoutEffect(() => {
    paint.current = () => {
      waiting.current = 0;
      const element = canvas.current;
      const context = element?.getContext("2d");
      if (!element || !context) return;
      const { width, height } = size();
      const density = window.devicePixelRatio || 1;
      if (element.width !== Math.round(width * density) || element.height !== Math.round(height * density)) {
        element.width = Math.round(width * density);
        element.height = Math.round(height * density);
      }
      const visible = index.within(viewOf(viewport.current, { width, height }));
      // What is dragged is not where the index has it.
      for (const id of scene.shift?.ids ?? []) visible.parts.add(id);
      paintFar(context, { ...scene, visible }, viewport.current, density);
    };
    paint.current();
  }, [scene, index, viewport, size]);
  useEffect(() => {
    onShow.current = () => {
      waiting.current ||= requestAnimationFrame(() => paint.current());
    };
    return () => {
      onShow.current = () => {};
      cancelAnimationFrame(waiting.current);
    };
  }, [onShow]);
  return <canvas ref={canvas} className={cx("far")} aria-hidden="true" />;
}
