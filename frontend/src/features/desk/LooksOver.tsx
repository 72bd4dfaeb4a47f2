import { lazy, Suspense } from "react";
import type { Choices, SourceView, StudyView } from "../../api/client";
import { engineNamed, hears, isOurs, offeredBy } from "../../primitives/engines";
import { setValue, useBands, type Band } from "../../study/band";
import { useDeskView } from "../../study/view";
import { useBandEdit } from "./useBandEdit";

const LooksPanel = lazy(() => import("../looks/LooksPanel").then((m) => ({ default: m.LooksPanel })));

/** How much of a second look there is when it is first mixed in. */
const FIRST_SHARE = 0.35;

/** The looks over the pictures, and what choosing one does to the band. */
export function LooksOver({ study, source, band, choices }: { study: StudyView; source: SourceView; band: Band; choices: Choices }) {
  const change = useBands((s) => s.change);
  const show = useDeskView((s) => s.show);
  const edit = useBandEdit(study.id, band);
  const { recipe } = band;
  const offered = offeredBy(choices, recipe.engine);
  const usual = ([from, to]: [number, number]) =>
    change(study.id, (b) => (b.spans.strength ? { ...b, spans: { ...b.spans, strength: { from, to, count: b.spans.strength.count } } } : setValue("strength", Number(((from + to) / 2).toFixed(2)))(b)));
  return (
    <Suspense>
      <LooksPanel
        source={source}
        looks={offered.looks}
        pictured={isOurs(recipe)}
        mixes={hears(engineNamed(choices, recipe.engine), "second_share")}
        recipe={recipe}
        ticked={edit.ticked("look")}
        onTick={edit.tick("look")}
        onLook={(look) => edit.part({ look })}
        onSecond={(name) => edit.part({ second_look: name, second_share: name ? recipe.second_share || FIRST_SHARE : 0 })}
        onShare={(second_share) => edit.part({ second_share })}
        onStrength={usual}
        onClose={() => show({ over: null })}
      />
    </Suspense>
  );
}
