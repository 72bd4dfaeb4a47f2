import { useRef } from "react";
import type { RowTipView, SweepView, TakeView } from "../../api/client";
import { useKeys } from "../../common/keys";
import { usePreferences } from "../../common/preferences";
import { nextZoom } from "../../primitives/spot";
import { turned, useBands } from "../../study/band";
import { BAND_CONTROLS, inDrawer } from "../../study/controls";
import { useFocusOf } from "../../common/focus";
import { usePointed } from "../../study/pointed";
import type { StudyDesk } from "../../study/useStudyDesk";
import type { SheetState } from "../../study/useSheet";
import { useToHand } from "../../study/useToHand";
import { useDeskView } from "../../study/view";
import { stepsFrom, type StepActs } from "../tide/steps";
import type { Runs } from "./useRuns";

interface Given {
  studyId: string;
  sweep: SweepView | undefined;
  take: TakeView | undefined;
  desk: StudyDesk;
  sheet: SheetState;
  runs: Runs;
  tips: RowTipView[];
  acts: StepActs;
  several: boolean;
  toBench: () => void;
  carryOn: () => void;
}

/** Controls that a digit leads to: 1 to 9 and 0. */
const DIGITS = 10;

/** With Shift the one, without it the other. */
const shifted = (withShift: () => unknown, plain: () => unknown) => (event: KeyboardEvent) => (event.shiftKey ? withShift() : plain());

/** What the keys of the desk do. A close look begins where the hand `point`ed last. */
export function useDeskKeys({ studyId, sweep, take, desk, sheet, runs, tips, acts, several, toBench, carryOn }: Given) {
  const view = useDeskView();
  const toHand = useToHand(studyId);
  const bands = useBands();
  const tuck = usePreferences((s) => s.tuck);
  const focus = useFocusOf((s) => s.ask);
  const pointed = useRef({ x: 0.5, y: 0.5 });
  const { show, toggle, spot } = view;
  const closeLook = () => show({ spot: spot ? null : { ...pointed.current, zoom: 2 } });
  const control = (name: string) => () => {
    if (inDrawer(name)) show({ over: "drawer" });
    focus(name);
  };
  const escape = () => {
    if (view.over) show({ over: null });
    else if (spot) show({ spot: null });
    else if (several) sheet.clear();
    else desk.pick(undefined);
  };
  /** The steps from the row under the hand, taken at the press of a key. */
  const steps = () => {
    const under = usePointed.getState().take;
    return sweep && stepsFrom(sweep, tips, sweep.takes.find((t) => t.id === under && t.state === "done") ?? take);
  };
  const hold = () => steps()?.canHold && acts.hold();
  const finer = () => {
    const { row, gives } = steps() ?? {};
    if (gives && row?.tip) acts.finer(row, row.tip.low!, row.tip.high!);
  };
  const toLast = () => {
    const last = steps()?.last;
    if (last) acts.go(last.id);
  };
  const zoomed = (larger: boolean) => () => spot && show({ spot: { ...spot, zoom: nextZoom(spot.zoom, larger) } });
  useKeys(
    {
      i: () => toHand("frame"),
      u: shifted(() => toHand("recolour"), desk.touch),
      p: shifted(() => toHand("subject"), () => toHand("region")),
      d: () => toHand("mix"),
      j: () => toggle("looks"),
      ".": () => toggle("drawer"),
      z: () => show({ describing: !view.describing }),
      ...desk.keys,
      h: shifted(hold, () => toHand("faces")),
      k: shifted(toLast, () => desk.toggleMark("keep")),
      f: shifted(finer, () => (view.live || !sweep) && runs.renderLive()),
      r: runs.run,
      a: runs.tryLooks,
      n: carryOn,
      l: shifted(desk.lineage, () => sweep && show({ live: !view.live })),
      ",": tuck,
      v: () => show({ reading: !view.reading }),
      Enter: toBench,
      Escape: escape,
      e: closeLook,
      "+": zoomed(true),
      "-": zoomed(false),
      ...sheet.keys,
      t: () => take?.state === "done" && show({ trying: true }),
      y: shifted(sheet.turn, () => bands.change(studyId, turned)),
      o: () => sweep && runs.again(sweep),
      "ctrl+a": sheet.chooseAll,
      "ctrl+z": () => bands.undo(studyId),
      "ctrl+y": () => bands.redo(studyId),
      w: shifted(desk.wall, () => focus("prompt")),
      ...Object.fromEntries(BAND_CONTROLS.slice(0, DIGITS).map((info, i) => [String((i + 1) % 10), control(info.control)])),
    },
    desk.keysUp,
  );
  const point = (x: number, y: number) => {
    pointed.current = { x, y };
  };
  return { point, closeLook };
}
