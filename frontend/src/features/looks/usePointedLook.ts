import { useEffect, useRef, useState, type RefObject } from "react";

interface PointedLook {
  name: string;
  /** The large picture goes below it, since it lies in the upper half. */
  below: boolean;
}

/** Milliseconds after which a hand that rests on a look sees it large; a key shows it at once. */
const RESTS = 220;

/** The look under the hand or the keyboard's focus, once it rests there. */
export function usePointedLook(panel: RefObject<HTMLElement | null>) {
  const [pointed, setPointed] = useState<PointedLook | null>(null);
  const timer = useRef(0);
  useEffect(() => () => window.clearTimeout(timer.current), []);
  const point = (at: { name: string; node: HTMLElement } | null, by: "hand" | "key") => {
    window.clearTimeout(timer.current);
    const frame = panel.current?.getBoundingClientRect();
    if (!at || !frame) {
      setPointed(null);
      return;
    }
    const box = at.node.getBoundingClientRect();
    const next = { name: at.name, below: box.top + box.height / 2 < frame.top + frame.height / 2 };
    timer.current = window.setTimeout(() => setPointed(next), by === "key" ? 0 : RESTS);
  };
  return { pointed, point };
}
