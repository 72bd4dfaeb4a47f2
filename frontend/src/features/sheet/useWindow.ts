import { startTransition, useDeferredValue, useEffect, useRef, useState, type RefObject } from "react";
import { inWindow } from "../../primitives/layout";

/** Cells come and go by so many rows or columns, so that most steps of a scroll or a pinch change none. */
const TOGETHER = 4;

const widened = ([first, end]: [number, number], together: number): [number, number] => [Math.floor(first / together) * together, Math.ceil(end / together) * together];

/** How much of what lies beyond each edge of a large sheet is drawn too, in views. */
const AHEAD = 0.35;
/** Milliseconds after which that begins: first what is in sight. */
const SETTLED = 600;
/** So many cells, as small as this, stay drawn once they were, so that a scroll over them draws nothing. */
const MOST_KEPT = 600;
const SMALL = 208;
/** Milliseconds between two rows that are drawn before they come into sight. */
const A_ROW = 40;
/** Milliseconds after which a sheet that was scrolled stands still. */
const STILL = 150;

export interface Shown {
  rows: [number, number];
  columns: [number, number];
}

interface Grid {
  step: { x: number; y: number };
  rows: number;
  columns: number;
  /** What lies before the first cell. */
  head: number;
  side: number;
}

/** Which rows and columns of a scrolled sheet are in sight: only they are drawn, however many there are. */
export function useWindow(scroller: RefObject<HTMLDivElement | null>, { step, rows, columns, head, side }: Grid, size: { width: number; height: number }): Shown {
  const [at, setAt] = useState({ x: 0, y: 0 });
  const [ahead, setAhead] = useState(0);
  useEffect(() => {
    const timer = setTimeout(() => startTransition(() => setAhead(AHEAD)), SETTLED);
    return () => clearTimeout(timer);
  }, []);
  const keeps = rows * columns <= MOST_KEPT && step.x <= SMALL;
  const moved = useRef(0);
  const beyond = useBeyond(keeps && ahead > 0, Math.max(rows, columns), moved);
  useEffect(() => {
    const node = scroller.current;
    if (!node) return;
    let frame = 0;
    const read = () => {
      frame = 0;
      // Told in whole cells, so that most scrolling draws nothing anew.
      const next = { x: Math.floor(node.scrollLeft / step.x) * step.x, y: Math.floor(node.scrollTop / step.y) * step.y };
      // What comes into sight is drawn between frames: scrolling never waits for it.
      startTransition(() => setAt((now) => (now.x === next.x && now.y === next.y ? now : next)));
    };
    const scrolled = () => {
      moved.current = performance.now();
      frame ||= requestAnimationFrame(read);
    };
    read();
    node.addEventListener("scroll", scrolled, { passive: true });
    return () => {
      node.removeEventListener("scroll", scrolled);
      cancelAnimationFrame(frame);
    };
  }, [scroller, step.x, step.y]);
  const view = keeps ? 0 : ahead;
  const [across, up] = [view * size.width + beyond * step.x, view * size.height + beyond * step.y];
  const together = keeps ? 1 : TOGETHER;
  const now: Shown = {
    rows: widened(inWindow(at.y - head - up, size.height + 2 * up + head + step.y, step.y, rows), together),
    columns: widened(inWindow(at.x - side - across, size.width + 2 * across + side + step.x, step.x, columns), together),
  };
  // While a pinch changes it at every frame, cells come and go between frames.
  const [firstRow, endRow, firstColumn, endColumn] = useDeferredValue([...now.rows, ...now.columns].join()).split(",").map(Number);
  return { rows: [firstRow!, endRow!], columns: [firstColumn!, endColumn!] };
}

/** How many rows and columns beyond what is in sight are drawn: one more whenever the page has nothing else to do. */
function useBeyond(on: boolean, most: number, moved: RefObject<number>): number {
  const [beyond, setBeyond] = useState(0);
  useEffect(() => {
    if (!on || beyond >= most) return;
    let idle = 0;
    let timer = 0;
    const later = () => {
      timer = window.setTimeout(() => {
        // Not while the sheet moves: what comes into sight is enough to draw then.
        if (performance.now() - moved.current < STILL) later();
        else idle = requestIdleCallback(() => startTransition(() => setBeyond((now) => now + 1)));
      }, A_ROW);
    };
    later();
    return () => {
      clearTimeout(timer);
      cancelIdleCallback(idle);
    };
  }, [on, beyond, most, moved]);
  return on ? beyond : 0;
}
