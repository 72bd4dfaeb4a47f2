import { useNavigate } from "react-router";
import type { StudyView, TakeView } from "../../api/client";
import type { StepNode } from "../../api/lineage";
import { useBands } from "../../study/band";
import { usePlace } from "../../study/place";

const idOf = (step: string) => step.slice(step.indexOf(":") + 1);

/** The take of the study that a step is, if its sweep was not put away. */
export function takeOf(study: StudyView, step: StepNode | undefined): TakeView | undefined {
  if (step?.kind !== "take") return undefined;
  return study.sweeps.flatMap((sweep) => sweep.takes).find((take) => take.id === idOf(step.id));
}

/** The source of the study that a step is, or became when it was carried on. */
export function sourceOf(study: StudyView, step: StepNode | undefined): string | undefined {
  const names = step ? [step.id, ...step.also] : [];
  return names.filter((name) => name.startsWith("source:")).map(idOf).find((id) => study.sources.some((source) => source.id === id));
}

/** The source of this study that a take was made of; in a copy takes still name the first study's. */
function sourceUnder(study: StudyView, take: TakeView): string | undefined {
  const own = study.sources.find((source) => source.id === take.source_id);
  return own?.id ?? study.sweeps.find((sweep) => sweep.takes.some((other) => other.id === take.id))?.source_id;
}

/** What can be done with steps: each opens where it is at home. */
export function useSteps(study: StudyView) {
  const navigate = useNavigate();
  const place = usePlace();
  const change = useBands((s) => s.change);
  const at = (path: string) => void navigate(`/study/${study.id}${path}`);

  const showTake = (step: StepNode, take: TakeView) => {
    if (step.sweep) place.showSweep(study.id, step.sweep);
    place.pick(study.id, take.id);
  };
  const open = (step: StepNode) => {
    const take = takeOf(study, step);
    if (take) showTake(step, take);
    else if (step.kind === "sweep" && step.sweep) place.showSweep(study.id, step.sweep);
    else if (step.kind === "larger") return at(`/finish?of=${step.parents[0] ?? ""}&do=larger`);
    else if (step.id.startsWith("stack:")) return at(`/hand/${idOf(step.id)}`);
    else {
      const source = sourceOf(study, step);
      if (source) place.showSource(study.id, source);
      return at("?live");
    }
    at("");
  };
  /** Both on the bench: the first that is a take lies on it, the other is what it is compared with. */
  const toBench = (a: StepNode, b: StepNode) => {
    const [one, other] = takeOf(study, a) ? [a, b] : [b, a];
    const take = takeOf(study, one);
    if (!take) return;
    showTake(one, take);
    const second = takeOf(study, other);
    const against = second ? `take:${second.id}` : `source:${sourceOf(study, other)}`;
    at(`/bench?against=${against}`);
  };
  const canCompare = (a: StepNode | undefined, b: StepNode | undefined) =>
    Boolean(a && b && (takeOf(study, a) || takeOf(study, b)) && [a, b].every((step) => takeOf(study, step) || sourceOf(study, step)));
  /** A branch begins: the take's settings into the band, its own source under it; a source becomes the next one. */
  const again = (step: StepNode) => {
    const take = takeOf(study, step);
    const source = take ? sourceUnder(study, take) : sourceOf(study, step);
    if (source) place.showSource(study.id, source);
    if (take) change(study.id, () => ({ recipe: take.recipe, spans: {} }));
    at("?live");
  };
  const canBegin = (step: StepNode | undefined) => Boolean(step && (takeOf(study, step) || sourceOf(study, step)));
  return { open, toBench, canCompare, again, canBegin };
}
