import { useEffect, useLayoutEffect, useRef, type CSSProperties, type RefObject } from "react";
import { flushSync } from "react-dom";
import { pinched, type Pinch } from "../../primitives/pinch";
import type { SheetLayout } from "../../primitives/layout";
import { useCellWidth } from "./cellWidth";

/** Round the cells, for the rim of the picked one, and between them and their labels. */
export const RIM = 5;
const WIDTHS = { least: 72, most: 1024 };
// Growth for each unit that the wheel turns, and how much of one turn counts: a notch is an eighth.
const ZOOM = 0.002;
const MOST_TURN = 60;
// Milliseconds without a turn after which a pinch is over.
const RESTS = 140;

/** How labels stand along an axis: every `step` pixels, as long as a `cell`. A pinch changes these and no label. */
export const labelSteps = (step: number, cell: number, shift = 0) => ({ "--step": `${step}px`, "--cell": `${cell}px`, "--shift": `${shift}px` }) as CSSProperties;

const put = (node: HTMLElement | null, steps: CSSProperties) => Object.entries(steps).forEach(([name, value]) => node?.style.setProperty(name, String(value)));

/**
 * Pinch, or the wheel with Ctrl, makes cells larger and smaller where the hand is; smaller than the room again fills it.
 *
 * While a pinch goes on the cells of a matrix (`scales`) are only moved and scaled as one picture, which costs no layout
 * and no drawing; they are laid out at their new width when it rests.
 */
export function useCellZoom(frame: RefObject<HTMLDivElement | null>, scroller: RefObject<HTMLDivElement | null>, plane: RefObject<HTMLDivElement | null>, off: boolean, layout: SheetLayout, scales: boolean, onMoved: (step: number, cell: number) => void) {
  const latest = useRef({ layout, off, scales, onMoved });
  useLayoutEffect(() => {
    latest.current = { layout, off, scales, onMoved };
  });
  useEffect(() => {
    const node = frame.current;
    if (!node) return;
    const { setWide } = useCellWidth.getState();
    let pinch: Pinch | null = null;
    // Where the labels end: a pinch moves none of them.
    let edge = { x: 0, y: 0 };
    let resting = 0;
    const part = (name: string) => plane.current?.querySelector<HTMLElement>(name) ?? null;

    const rest = () => {
      if (!pinch) return;
      const { hand, point, wide } = pinch;
      pinch = null;
      flushSync(() => setWide(Math.round(wide)));
      const cells = part("[data-cells]");
      const inner = scroller.current;
      if (!cells || !inner) return;
      const now = latest.current.layout;
      cells.style.transform = "";
      cells.style.clipPath = "";
      put(part("[data-labels=columns]"), labelSteps(now.step.x, now.cell.width));
      put(part("[data-labels=rows]"), labelSteps(now.step.y, now.cell.height));
      // What was under the hand is under it again.
      const box = cells.getBoundingClientRect();
      inner.scrollBy({ left: box.left + point.x * now.step.x - hand.x, top: box.top + point.y * now.step.y - hand.y });
    };

    const scale = (cells: HTMLElement, inner: HTMLElement, hand: { x: number; y: number }, growth: number) => {
      const now = latest.current.layout;
      const view = inner.getBoundingClientRect();
      if (!pinch) {
        const box = cells.getBoundingClientRect();
        edge = { x: part("[data-labels=rows]")?.getBoundingClientRect().right ?? 0, y: part("[data-labels=columns]")?.getBoundingClientRect().bottom ?? 0 };
        pinch = { wide: now.cell.width, hand, point: { x: 0, y: 0 }, from: { x: box.left, y: box.top }, at: { x: box.left, y: box.top }, step: now.step };
      }
      const room = { left: view.left + now.side + RIM, top: view.top + now.head + RIM, right: view.left + inner.clientWidth - RIM, bottom: view.top + inner.clientHeight - RIM };
      pinch = pinched(pinch, hand, Math.min(Math.max(pinch.wide * growth, WIDTHS.least), WIDTHS.most), now, room);
      const [x, y] = [pinch.at.x - pinch.from.x, pinch.at.y - pinch.from.y];
      const by = { x: pinch.step.x / now.step.x, y: pinch.step.y / now.step.y };
      cells.style.transform = `translate(${x}px, ${y}px) scale(${by.x}, ${by.y})`;
      // Nothing of them beside or above the labels.
      cells.style.clipPath = `inset(${(edge.y - pinch.at.y) / by.y}px ${-RIM}px ${-RIM}px ${(edge.x - pinch.at.x) / by.x}px)`;
      const gap = now.step.x - now.cell.width;
      put(part("[data-labels=columns]"), labelSteps(pinch.step.x, pinch.step.x - gap, x));
      put(part("[data-labels=rows]"), labelSteps(pinch.step.y, pinch.step.y - gap, y));
      latest.current.onMoved(pinch.step.x, now.cell.width * by.x);
    };

    const wheel = (event: WheelEvent) => {
      const now = latest.current;
      if (!(event.ctrlKey || event.metaKey) || now.off) return;
      event.preventDefault();
      const growth = Math.exp(-Math.min(Math.max(event.deltaY, -MOST_TURN), MOST_TURN) * ZOOM);
      const cells = part("[data-cells]");
      if (now.scales && cells && scroller.current) {
        scale(cells, scroller.current, { x: event.clientX, y: event.clientY }, growth);
        window.clearTimeout(resting);
        resting = window.setTimeout(rest, RESTS);
        return;
      }
      const inner = scroller.current!;
      const before = now.layout.cell.width;
      const wide = Math.round(Math.min(Math.max(before * growth, WIDTHS.least), WIDTHS.most));
      const box = inner.getBoundingClientRect();
      const [x, y] = [event.clientX - box.left, event.clientY - box.top];
      const [left, top] = [(inner.scrollLeft + x) * (wide / before) - x, (inner.scrollTop + y) * (wide / before) - y];
      setWide(wide);
      requestAnimationFrame(() => inner.scrollTo({ left, top }));
    };
    node.addEventListener("wheel", wheel, { passive: false });
    return () => {
      node.removeEventListener("wheel", wheel);
      window.clearTimeout(resting);
      // The sheet goes; only the width that the hand came to is kept.
      if (pinch) setWide(Math.round(pinch.wide));
    };
  }, [frame, scroller, plane]);
}
