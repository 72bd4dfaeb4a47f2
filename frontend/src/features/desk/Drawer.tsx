import type { Choices, PlanView, SourceView } from "../../api/client";
import { useToHand } from "../../study/useToHand";
import type { Band } from "../../study/band";
import { BAND_CONTROLS, infoOf, inDrawer } from "../../study/controls";
import { Gauge } from "../../ui/Gauge";
import { PhraseField } from "../words/PhraseField";
import { engineNamed, hears, offeredBy } from "../../primitives/engines";
import { BandGauge } from "./BandGauge";
import { BandList } from "./BandList";
import { Given } from "./Given";
import { holdsDepth } from "./holdsDepth";
import type { BandEdit } from "./useBandEdit";

export interface DrawerProps {
  studyId: string;
  source: SourceView;
  sources: SourceView[];
  band: Band;
  edit: BandEdit;
  choices: Choices;
  plan: PlanView | undefined;
  onSource: (id: string) => void;
}

/** Every control that does not stand in the band's row, over the pictures. */
export function Drawer({ studyId, source, sources, band, edit, choices, plan, onSource }: DrawerProps) {
  const toHand = useToHand(studyId);
  const lists = { source, sources, band, edit, choices, onSource };
  const engine = engineNamed(choices, band.recipe.engine);
  const offered = offeredBy(choices, band.recipe.engine);
  const second = offered.looks.find((l) => l.name === band.recipe.second_look);
  const gauges = BAND_CONTROLS.filter(({ control }) => inDrawer(control) && hears(engine, control) && (control !== "depth" || holdsDepth(source, band)));
  return (
    <section aria-label="All controls" className="absolute inset-x-0 top-full z-30 border-b border-rule bg-paper px-3 pt-1 pb-3 text-ink shadow-xl">
      <div className="grid grid-cols-[repeat(auto-fill,minmax(190px,1fr))] gap-x-5 gap-y-1">
        {gauges.map(({ control }) => <BandGauge key={control} control={control} source={source} band={band} edit={edit} />)}
        {second && (
          <Gauge {...infoOf("second_share")!} label={`Share of ${second.title.toLowerCase()}`} id="control-second_share" value={band.recipe.second_share ?? 0} span={band.spans.second_share ?? null} onValue={edit.put("second_share")} onSpan={edit.stretch("second_share")} />
        )}
        <div className="flex flex-col gap-1 pt-1">
          <BandList control="size" {...lists} />
          <BandList control="quality" {...lists} />
        </div>
        <div className="flex flex-col gap-1 pt-1">
          {choices.engines.length > 1 && <BandList control="engine" {...lists} />}
          {offered.samplers.length > 0 && <BandList control="sampler" {...lists} />}
          {sources.length > 1 && <BandList control="source" {...lists} />}
          <Given studyId={studyId} source={source} onDepth={() => edit.put("depth")(0.7)} onTouch={toHand} />
        </div>
      </div>
      <div className="mt-2 flex max-w-[900px] items-start gap-2">
        <label htmlFor="words-avoid" className="w-[60px] shrink-0 pt-1 font-semibold">Avoid</label>
        <PhraseField id="words-avoid" label="Avoid" hint="what it should have less of" text={band.recipe.avoid ?? ""} understood={plan?.avoided} onText={(avoid) => edit.part({ avoid })} />
      </div>
    </section>
  );
}
