import { offeredBy } from "../../primitives/engines";
import { useMemo } from "react";
import type { Choices, RowTipView, SourceView, StudyView, SweepRequest, SweepView } from "../../api/client";
import { useFinish, usePlan, useRunSweep } from "../../api/queries";
import { sayFault, useNotices } from "../../common/notices";
import { useDebounced } from "../../common/useDebounced";
import { finerSpan, heldOn } from "../../primitives/tip";
import { bandOf, useBands, type Band } from "../../study/band";
import { changedBy, looksRequest, requestOf } from "../../study/controls";
import type { StudyDesk } from "../../study/useStudyDesk";
import { useDeskView } from "../../study/view";

const DEBOUNCE = 180;

interface Given {
  study: StudyView;
  choices: Choices;
  desk: StudyDesk;
  band: Band | undefined;
  source: SourceView;
}

/** What a recipe of a sweep's row is, all of its controls as that row has them. */
const rowRecipe = (sweep: SweepView, values: RowTipView["values"]) => Object.entries(values).reduce((recipe, [control, value]) => changedBy(recipe, control, value), sweep.recipe);

/** What the band would run, what it costs, and everything that starts takes. */
export function useRuns({ study, choices, desk, band, source }: Given) {
  const change = useBands((s) => s.change);
  const show = useDeskView((s) => s.show);
  const runSweep = useRunSweep(study.id);
  const finish = useFinish(study.id);
  const wanted = useMemo(() => (band ? requestOf(source.id, band.recipe, band) : null), [band, source.id]);
  const plan = usePlan(useDebounced(wanted, DEBOUNCE));
  const start = (asked: SweepRequest | null) => {
    if (!asked || runSweep.isPending) return;
    runSweep.mutate(asked, {
      onSuccess: (made) => {
        desk.showSweep(study.id, made.id);
        desk.pick(undefined);
        if (made.takes.every((t) => t.state === "done")) useNotices.getState().say("All of these takes exist already; here they are.");
      },
      onError: sayFault,
    });
  };
  const again = (of: SweepView) => {
    change(study.id, () => bandOf(of));
    useNotices.getState().say("The settings of that sweep stand in the band.");
  };
  return {
    plan: plan.data,
    refusal: plan.error?.message ?? null,
    busy: runSweep.isPending,
    start,
    again,
    run: () => {
      show({ live: false, over: null });
      start(wanted);
    },
    /** One take in full of what the draft shows. */
    renderLive: () => {
      if (!band) return;
      show({ live: false, over: null });
      start(requestOf(source.id, band.recipe, { spans: {} }));
    },
    tryLooks: () => band && start(looksRequest(source.id, band.recipe, offeredBy(choices, band.recipe.engine).looks, source.kind)),
    /** Takes of a sweep that failed or were stopped, with the same settings. */
    missing: (sweep: SweepView) => start({ source_id: sweep.source_id, recipe: sweep.recipe as unknown as Record<string, unknown>, spans: sweep.spans }),
    /** The stretch of strength between two values into the band, with everything else as in a row of the sweep. */
    finer: (sweep: SweepView, values: RowTipView["values"], low: number, high: number) => {
      const own = rowRecipe(sweep, values);
      const seeds = sweep.spans.find((span) => span.control === "seed");
      change(study.id, () => ({ recipe: seeds ? { ...own, seed: Number(seeds.values[0]) } : own, spans: { strength: finerSpan(low, high) } }));
      useNotices.getState().say("The band holds the finer sweep; press Run.");
    },
    /** The same sweep with lines and shapes held, run at once: the look may then be stronger. */
    holdAndGoOn: (sweep: SweepView) => {
      const recipe = { ...sweep.recipe, holds: heldOn(sweep.recipe.holds ?? {}) };
      // The very values of that sweep, however they are spaced.
      const spans = sweep.spans.filter((s) => s.control !== "lines" && s.control !== "shapes");
      change(study.id, () => bandOf({ recipe, spans }));
      start({ source_id: sweep.source_id, recipe: recipe as unknown as Record<string, unknown>, spans });
    },
    /** Drafts as takes in full. */
    finish: (takes: string[]) => finish.mutate(takes, { onSuccess: (made) => desk.showSweep(study.id, made.id), onError: sayFault }),
  };
}

export type Runs = ReturnType<typeof useRuns>;
