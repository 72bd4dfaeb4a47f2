import { useEffect, useRef, type PointerEvent, type RefObject } from "react";
import { draggedSpot, nextZoom, type Spot } from "../../primitives/spot";

interface Given {
  frame: RefObject<HTMLDivElement | null>;
  spot: Spot | null;
  natural: { width: number; height: number };
  onSpot: (spot: Spot) => void;
  onPoint: (x: number, y: number) => void;
}

/** Pointing, dragging and the wheel on a sheet whose cells may all show one spot. */
export function useSpot({ frame, spot, natural, onSpot, onPoint }: Given) {
  const drag = useRef<{ x: number; y: number; spot: Spot } | null>(null);
  const moved = useRef(false);
  const latest = useRef({ spot, onSpot });
  useEffect(() => {
    latest.current = { spot, onSpot };
  });
  useEffect(() => {
    const node = frame.current;
    if (!node) return;
    const wheel = (event: WheelEvent) => {
      const now = latest.current;
      if (!now.spot) return;
      event.preventDefault();
      now.onSpot({ ...now.spot, zoom: nextZoom(now.spot.zoom, event.deltaY < 0) });
    };
    node.addEventListener("wheel", wheel, { passive: false });
    return () => node.removeEventListener("wheel", wheel);
  }, [frame]);

  return {
    onPointerDown: (event: PointerEvent) => {
      if (!spot || event.button !== 0) return;
      drag.current = { x: event.clientX, y: event.clientY, spot };
      moved.current = false;
    },
    onPointerMove: (event: PointerEvent) => {
      const now = drag.current;
      if (now) {
        const dx = event.clientX - now.x;
        const dy = event.clientY - now.y;
        if (!moved.current && Math.hypot(dx, dy) < 4) return;
        moved.current = true;
        onSpot(draggedSpot(now.spot, dx, dy, natural));
        return;
      }
      // Where the hand points in a cell is where the close look begins.
      const cell = (event.target as HTMLElement).closest("[data-cell]");
      if (!spot && cell) {
        const box = cell.getBoundingClientRect();
        onPoint((event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height);
      }
    },
    onPointerUp: () => {
      drag.current = null;
    },
    onClickCapture: (event: React.MouseEvent) => {
      // A drag that ends on a cell does not pick it.
      if (moved.current) event.stopPropagation();
      moved.current = false;
    },
  };
}
