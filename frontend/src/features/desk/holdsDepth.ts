import type { SourceView } from "../../api/client";
import type { Band } from "../../study/band";

/** Whether depth can be held here: by a guide, or on flat art by its own parts. */
export const holdsDepth = (source: SourceView, { recipe, spans }: Band): boolean =>
  source.has_depth || source.kind === "flat art" || (recipe.holds?.depth ?? 0) > 0 || spans.depth !== undefined;
