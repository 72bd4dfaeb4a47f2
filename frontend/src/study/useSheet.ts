import { useMemo, useState } from "react";
import type { MarkView, SweepView } from "../api/client";
import { arrange, takeBeside, takesBetween, type Sort } from "../primitives/arrange";
import { usePlace } from "./place";
import { isShown, type Show } from "./show";

const NONE: string[] = [];

/** How the sheet of a sweep is shown, and which of its takes are under the hand. */
export function useSheet(studyId: string, sweep: SweepView | undefined, marks: Map<string, MarkView>, picked: string | undefined, pick: (take: string | undefined) => void) {
  const [show, setShow] = useState<Show>("all");
  const [sort, setSort] = useState<Sort>("axes");
  const [pages, setPages] = useState<Record<string, number>>({});
  const [turns, setTurns] = useState<Record<string, boolean>>({});
  const chosen = usePlace((s) => s.chosen[studyId]) ?? NONE;
  const choose = usePlace((s) => s.choose);
  const [columns, setColumns] = useState(1);
  const page = sweep ? (pages[sweep.id] ?? 0) : 0;
  const turned = sweep ? (turns[sweep.id] ?? false) : false;
  const arranged = useMemo(
    () => arrange(sweep?.takes ?? [], sweep?.spans ?? [], page, sort, (take) => isShown(show, marks.get(take.id)?.value), turned),
    [sweep, page, sort, show, marks, turned],
  );
  const pageCount = arranged.pages?.values.length ?? 1;
  const setPage = (next: number) => sweep && next >= 0 && next < pageCount && setPages((now) => ({ ...now, [sweep.id]: next }));

  /** A click picks; with Ctrl it adds to or takes from the chosen ones, with Shift it chooses all up to there. */
  const click = (take: string, event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => {
    if (event.shiftKey && picked) {
      choose(studyId, takesBetween(arranged, picked, take));
      return;
    }
    if (event.ctrlKey || event.metaKey) {
      const before = chosen.length ? chosen : picked && picked !== take ? [picked] : [];
      choose(studyId, before.includes(take) ? before.filter((id) => id !== take) : [...before, take]);
    } else {
      choose(studyId, []);
    }
    pick(take);
  };
  const step = (dx: number, dy: number) => (event: KeyboardEvent) => {
    const next = takeBeside(arranged, columns, picked, dx, dy);
    if (!next) return;
    if (event.shiftKey) choose(studyId, [...new Set([...(chosen.length ? chosen : picked ? [picked] : []), next.id])]);
    else if (chosen.length) choose(studyId, []);
    pick(next.id);
  };
  return {
    arranged, turned, turn: () => sweep && setTurns((now) => ({ ...now, [sweep.id]: !turned })), show, setShow, sort, setSort, page, pageCount, setPage, chosen, click, columns, onColumns: setColumns,
    choose: (takes: string[]) => {
      choose(studyId, takes);
      if (takes.length && !takes.includes(picked ?? "")) pick(takes[0]);
    },
    clear: () => choose(studyId, []),
    chooseAll: () => choose(studyId, arranged.cells.map((c) => c.take.id)),
    keys: {
      ArrowRight: step(1, 0),
      ArrowLeft: step(-1, 0),
      ArrowDown: step(0, 1),
      ArrowUp: step(0, -1),
      PageDown: () => setPage(page + 1),
      PageUp: () => setPage(page - 1),
    },
  };
}

export type SheetState = ReturnType<typeof useSheet>;
