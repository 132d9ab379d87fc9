import { useLayoutEffect, useRef, useState } from "react";

/** The size of an element as it is laid out. */
export function useSize(usual: { width: number; height: number }) {
  const ref = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState(usual);
  useLayoutEffect(() => {
    const host = ref.current;
    if (!host) return;
    const take = () => host.clientWidth > 0 && setSize({ width: host.clientWidth, height: host.clientHeight });
    const watch = new ResizeObserver(take);
    watch.observe(host);
    take();
    return () => watch.disconnect();
  }, []);
  return { ref, ...size };
}
