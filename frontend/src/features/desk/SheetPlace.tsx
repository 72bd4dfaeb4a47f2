import type { ReactNode } from "react";
import type { Choices, RowTipView, SourceView, StudyView, SweepView } from "../../api/client";
import type { SheetState } from "../../study/useSheet";
import type { StudyDesk } from "../../study/useStudyDesk";
import { useDeskView } from "../../study/view";
import { Sheet } from "../sheet/Sheet";
import { SheetHead } from "../sheet/SheetHead";
import type { StepActs } from "../tide/steps";
import { TidePanel } from "../tide/TidePanel";
import type { Runs } from "./useRuns";

interface Props {
  study: StudyView;
  sweep: SweepView;
  source: SourceView;
  choices: Choices;
  desk: StudyDesk;
  sheet: SheetState;
  runs: Runs;
  tips: RowTipView[];
  acts: StepActs;
  onSpot: () => void;
  onPoint: (x: number, y: number) => void;
  /** What is said of the picked take, over the sheet. */
  children: ReactNode;
}

/** The sweep laid out, its head over it and its readings under it. */
export function SheetPlace({ study, sweep, source, choices, desk, sheet, runs, tips, acts, onSpot, onPoint, children }: Props) {
  const { show, reading, spot, region } = useDeskView();
  const elsewhere = (take: string, of: string) => {
    if (of !== sweep.id) desk.showSweep(study.id, of);
    desk.pick(take);
  };
  return (
    <>
      <SheetHead
        study={study}
        sweep={sweep}
        choices={choices}
        reading={reading}
        spot={spot}
        sheet={sheet}
        onSpot={onSpot}
        onSweep={(id) => desk.showSweep(study.id, id)}
        onAgain={runs.again}
        onMissing={() => runs.missing(sweep)}
        onReading={() => show({ reading: !reading })}
        onLive={() => show({ live: true })}
      />
      <div className="relative flex min-h-0 min-w-0 flex-1">
        <Sheet
          sweep={sweep}
          source={source}
          sources={study.sources}
          arranged={sheet.arranged}
          marks={desk.marks}
          picked={desk.picked}
          chosen={sheet.chosen}
          blinking={desk.blinking}
          reading={reading}
          ordered={sheet.sort === "axes"}
          region={region}
          spot={spot}
          onSpot={(next) => show({ spot: next })}
          onPoint={onPoint}
          onPick={sheet.click}
          onOpen={desk.open}
          onColumns={sheet.onColumns}
        />
        {children}
      </div>
      <TidePanel
        study={study}
        sweep={sweep}
        arranged={sheet.arranged}
        ordered={sheet.sort === "axes"}
        marks={desk.marks}
        picked={desk.picked}
        chosen={sheet.chosen}
        tips={tips}
        acts={acts}
        onPick={desk.pick}
        onElsewhere={elsewhere}
        onChoose={sheet.choose}
        onRegion={(box) => show({ region: box })}
      />
    </>
  );
}
