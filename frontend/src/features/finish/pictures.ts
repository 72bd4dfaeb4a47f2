import { sourceImage, takeImage, type Choices, type StudyView } from "../../api/client";
import type { Of } from "../../primitives/finish";
import { lookTitle } from "../../primitives/engines";

/** As much of a source as its address gives. */
const LARGEST_SHOWN = 2048;

/** A picture that is finished, as it is shown. */
export interface Pictured {
  of: Of;
  label: string;
  src: string;
  width: number;
  height: number;
}

/** Pictures of a study by what they are; those that are gone are left out. */
export function picturesOf(study: StudyView, choices: Choices, of: Of[]): Pictured[] {
  const takes = new Map(study.sweeps.flatMap((sweep) => sweep.takes).map((take) => [take.id, take]));
  return of.flatMap((one) => {
    if (one.kind === "source") {
      const source = study.sources.find((own) => own.id === one.id);
      return source ? [{ of: one, label: source.name, src: sourceImage(source, Math.min(Math.max(source.framed_width, source.framed_height), LARGEST_SHOWN)), ...framedSize(source) }] : [];
    }
    const take = takes.get(one.id);
    if (take?.state !== "done") return [];
    const look = lookTitle(choices, take.recipe);
    return [{ of: one, label: `${look}, strength ${(take.recipe.strength ?? 0).toFixed(2)}, seed ${take.recipe.seed}`, src: takeImage(take.id), width: take.width, height: take.height }];
  });
}

const framedSize = (source: StudyView["sources"][number]) => ({ width: source.framed_width, height: source.framed_height });
