import { useLayoutEffect, useState, type RefObject } from "react";

/** Width and height of an element, in pixels, as they are now. */
export function useSize(of: RefObject<HTMLElement | null>) {
  const [size, setSize] = useState({ width: 0, height: 0 });
  useLayoutEffect(() => {
    if (!of.current) return;
    const watch = new ResizeObserver(([entry]) => {
      const { width, height } = entry.contentRect;
      setSize({ width, height });
    });
    watch.observe(of.current);
    return () => watch.disconnect();
  }, [of]);
  return size;
}
