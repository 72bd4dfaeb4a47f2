import type { Choices, SourceView, StudyView } from "../../api/client";
import { useDeskView } from "../../study/view";
import type { Band } from "../../study/band";
import { engineNamed, hears, offeredBy } from "../../primitives/engines";
import { Explain } from "../explain/Explain";
import { Words } from "../words/Words";
import { BandGauge } from "./BandGauge";
import { Chips } from "./Chips";
import { Drawer } from "./Drawer";
import { LookButton } from "./LookButton";
import { AxesButton, RunButton } from "./RunButton";
import { SeedControl } from "./SeedControl";
import { useBandEdit } from "./useBandEdit";
import type { Runs } from "./useRuns";

interface Props {
  study: StudyView;
  source: SourceView;
  band: Band;
  choices: Choices;
  runs: Runs;
  onSource: (id: string) => void;
}

/** The band: what decides the next sweep most, in one row, and what it will cost. All else lies in its drawer. */
export function BandBar({ study, source, band, choices, runs, onSource }: Props) {
  const over = useDeskView((s) => s.over);
  const edit = useBandEdit(study.id, band);
  const { plan, refusal, busy } = runs;
  const offered = offeredBy(choices, band.recipe.engine);
  const engine = engineNamed(choices, band.recipe.engine);
  const look = offered.looks.find((l) => l.name === band.recipe.look);
  const drawer = { studyId: study.id, source, sources: study.sources, band, edit, choices, plan, onSource };
  return (
    <section aria-label="Band" className="relative z-30 h-[96px] shrink-0 border-b border-rule bg-paper px-3 pt-1">
      <div className="grid h-[62px] grid-cols-[minmax(112px,150px)_minmax(90px,1fr)_minmax(190px,1.6fr)_minmax(128px,184px)_minmax(136px,186px)_minmax(112px,148px)] items-start gap-x-3 xl:gap-x-4">
        <LookButton source={source} band={band} edit={edit} choices={offered} busy={busy || refusal !== null} onTryLooks={runs.tryLooks} />
        <Words studyId={study.id} source={source} band={band} plan={plan} />
        <BandGauge control="strength" source={source} band={band} edit={edit} usual={look?.strengths as [number, number] | undefined} />
        {hears(engine, "guidance") ? <BandGauge control="guidance" source={source} band={band} edit={edit} /> : <span />}
        <SeedControl band={band} edit={edit} beside={<Explain control="seed" label="Seed" source={source} recipe={band.recipe} onTake={(v) => edit.put("seed")(Number(v))} />} />
        <RunButton plan={plan} refusal={refusal} busy={busy} onRun={runs.run} />
      </div>
      <Chips {...drawer}>
        <AxesButton band={band} edit={edit} />
      </Chips>
      {over === "drawer" && <Drawer {...drawer} />}
      {refusal && <p role="alert" className="absolute inset-x-3 top-full z-40 mt-1 rounded bg-blush px-2 py-1 text-fault shadow-lg">{refusal}</p>}
    </section>
  );
}
