import { useEffect, useLayoutEffect, useRef, type RefObject } from "react";
import type { SheetLayout } from "../../primitives/layout";
import { useColumns } from "../../study/columns";

/**
 * Tells where the columns of the sheet stand, while it is laid out, scrolled and pinched, so that the readings under it
 * stand under them. `takes` is how many takes stand in one row; null where they don't. A pinch says what it has come to.
 */
export function useTellColumns(scroller: RefObject<HTMLElement | null>, layout: SheetLayout, takes: number | null) {
  const { step, cell } = layout;
  const flows = layout.source === "flow";
  const moved = (distance: number, width: number) => {
    const { tell } = useColumns.getState();
    const view = scroller.current?.getBoundingClientRect();
    const cells = scroller.current?.querySelector("[data-cells]")?.getBoundingClientRect();
    const edge = scroller.current?.closest("main")?.getBoundingClientRect().left ?? 0;
    if (takes === null || !view || !cells) tell(null);
    else tell({ first: cells.left - edge + (flows ? distance : 0) + width / 2, step: distance, count: takes });
  };
  const latest = useRef(() => moved(step.x, cell.width));
  useLayoutEffect(() => {
    latest.current = () => moved(step.x, cell.width);
  });
  // Not at every drawing: while a pinch goes on it says better where they are.
  useLayoutEffect(() => latest.current(), [layout, takes]);
  useEffect(() => {
    const node = scroller.current;
    const scrolled = () => latest.current();
    node?.addEventListener("scroll", scrolled, { passive: true });
    return () => {
      node?.removeEventListener("scroll", scrolled);
      useColumns.getState().tell(null);
    };
  }, [scroller]);
  return moved;
}
