import { useEffect } from "react";
import { useSearchParams } from "react-router";
import type { Choices, StudyView } from "../../api/client";
import { SURROUND_CLASS, usePreferences } from "../../common/preferences";
import { bandOf, useBands } from "../../study/band";
import { infoOf } from "../../study/controls";
import { useSheet } from "../../study/useSheet";
import { useStudyDesk } from "../../study/useStudyDesk";
import { useToHand } from "../../study/useToHand";
import { useDeskView } from "../../study/view";
import { BandBar } from "./BandBar";
import { Begin } from "./Begin";
import { LooksOver } from "./LooksOver";
import { SheetPlace } from "./SheetPlace";
import { TakeSide } from "./TakeSide";
import { useDeskKeys } from "./useDeskKeys";
import { usePasted } from "./usePasted";
import { useRuns } from "./useRuns";
import { useStepActs } from "./useStepActs";
import { useTipRows } from "../tide/steps";
import { LiveView } from "../live/LiveView";
import { setValue } from "../../study/band";

/** Where the sweep lives. */
export function Desk({ study, choices }: { study: StudyView; choices: Choices }) {
  const desk = useStudyDesk(study);
  const { sweep, take, picked } = desk;
  const source = desk.next;
  const { begin, change, bands } = useBands();
  const band = bands[study.id];
  const surround = usePreferences((s) => s.surround);
  const view = useDeskView();
  const toHand = useToHand(study.id);
  const { reset, show } = view;
  const [search] = useSearchParams();
  const asksLive = search.has("live");

  useEffect(() => reset({ live: asksLive }), [reset, asksLive, study.id]);
  useEffect(() => {
    const last = study.sweeps.at(-1);
    // A new study begins with what most artists do first: the whole range of strengths, few and cheap.
    begin(study.id, last ? bandOf(last) : { recipe: source.begin, spans: { strength: infoOf("strength")!.stretched! } });
  }, [begin, source.begin, study.id, study.sweeps]);

  const sheet = useSheet(study.id, sweep, desk.marks, picked, desk.pick);
  const runs = useRuns({ study, choices, desk, band, source });
  const tips = useTipRows(sweep);
  const acts = useStepActs(sweep, desk, runs);
  const chosen = sweep?.takes.filter((t) => sheet.chosen.includes(t.id)) ?? [];
  const several = chosen.length > 1;
  const toBench = () => {
    const first = several ? chosen.find((t) => t.state === "done") : take;
    if (first?.state === "done") desk.open(first.id);
  };
  const carryOn = () => desk.carryOn(() => show({ live: true }));
  const { point, closeLook } = useDeskKeys({ studyId: study.id, sweep, take, desk, sheet, runs, tips, acts, several, toBench, carryOn });
  usePasted(study.id);

  if (!band) return null;
  const shows = sweep && desk.source && !view.live ? "sheet" : "live";
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <BandBar study={study} source={source} band={band} choices={choices} runs={runs} onSource={desk.showSource} />
      <main className={`relative flex min-h-0 min-w-0 flex-1 flex-col ${SURROUND_CLASS[surround]}`}>
        {shows === "sheet" && (
          <SheetPlace study={study} sweep={sweep!} source={desk.source!} choices={choices} desk={desk} sheet={sheet} runs={runs} tips={tips} acts={acts} onSpot={closeLook} onPoint={point}>
            <TakeSide study={study} choices={choices} desk={desk} chosen={chosen} runs={runs} onBench={toBench} onCarryOn={carryOn} onClear={sheet.clear} />
          </SheetPlace>
        )}
        {shows === "live" && (
          <>
            {!sweep && <Begin study={study} choices={choices} />}
            <LiveView
              source={source}
              sources={study.sources}
              onSource={desk.showSource}
              recipe={band.recipe}
              blinking={desk.blinking}
              busy={runs.busy}
              onStrength={(strength) => change(study.id, setValue("strength", strength))}
              onRender={runs.renderLive}
              onClose={sweep && (() => show({ live: false }))}
              onTouch={toHand}
            />
          </>
        )}
        {view.over === "looks" && <LooksOver study={study} source={source} band={band} choices={choices} />}
      </main>
    </div>
  );
}
