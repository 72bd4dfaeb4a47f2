import { useLayoutEffect, useState, type RefObject } from "react";
import type { Size } from "../primitives/view";

/** Inner size of an element, followed as it changes. */
export function useElementSize(element: RefObject<HTMLElement | null>): Size {
  const [size, setSize] = useState<Size>({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const node = element.current;
    if (!node) return;
    const read = () => setSize({ width: node.clientWidth, height: node.clientHeight });
    read();
    const watcher = new ResizeObserver(read);
    watcher.observe(node);
    return () => watcher.disconnect();
  }, [element]);
  return size;
}
