import type { Choices, StudyView, TakeView } from "../../api/client";
import { engineNamed, offeredBy, tagOf } from "../../primitives/engines";
import { fromTake } from "../../study/fromTake";
import type { StudyDesk } from "../../study/useStudyDesk";
import { useToHand } from "../../study/useToHand";
import { useDeskView } from "../../study/view";
import { ChosenPanel } from "../take/ChosenPanel";
import { SidePanel } from "../take/SidePanel";
import { TakePanel } from "../take/TakePanel";
import type { Runs } from "./useRuns";

interface Props {
  study: StudyView;
  choices: Choices;
  desk: StudyDesk;
  chosen: TakeView[];
  runs: Runs;
  onBench: () => void;
  onCarryOn: () => void;
  onClear: () => void;
}

/** What is said of the picked take, or of several chosen ones, over the sheet: there only while something is picked. */
export function TakeSide({ study, choices, desk, chosen, runs, onBench, onCarryOn, onClear }: Props) {
  const { trying, show } = useDeskView();
  const toHand = useToHand(study.id);
  const { take, source } = desk;
  if (chosen.length > 1) {
    return (
      <SidePanel label="Chosen takes" beside={null}>
        <ChosenPanel takes={chosen} marks={desk.marks} onMark={desk.toggleMark} onBench={onBench} onFinish={() => runs.finish(chosen.map((t) => t.id))} onMix={() => toHand("mix")} onFiles={desk.finish} onClear={onClear} />
      </SidePanel>
    );
  }
  if (!take || !source) return null;
  const maker = engineNamed(choices, take.recipe.engine);
  return (
    <SidePanel label="Take" beside={take.id}>
      <TakePanel
        take={take}
        source={source}
        mark={desk.marks.get(take.id)}
        choices={choices}
        onMark={desk.setMark}
        onOpen={() => desk.open()}
        onCopy={desk.copy}
        onCarryOn={onCarryOn}
        onFinish={desk.finish}
        onLineage={desk.lineage}
        others={desk.takes}
        onGo={desk.goTo}
        tries={fromTake(take, source.id, study.sources, offeredBy(choices, take.recipe.engine).looks, source.kind, maker && tagOf(maker))}
        onTry={(item) => runs.start(item.request)}
        tryOpen={trying}
        onTryOpen={(open) => show({ trying: open })}
      />
    </SidePanel>
  );
}
