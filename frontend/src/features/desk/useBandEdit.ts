import type { Recipe } from "../../api/client";
import { useNotices } from "../../common/notices";
import type { SpanSetting } from "../../primitives/span";
import { FULL, setValue, useBands, withList, withSpan, type Band } from "../../study/band";
import type { Control, ListControl } from "../../study/controls";

/** How a study's band is changed: a value, a span, a ticked list, or a part of the recipe. */
export function useBandEdit(studyId: string, band: Band) {
  const change = useBands((s) => s.change);
  const full = () => useNotices.getState().say(FULL);
  return {
    put: (control: Control) => (value: number) => change(studyId, setValue(control, value)),
    stretch: (control: Control) => (span: SpanSetting | null) => {
      if (withSpan(band, control, span)) change(studyId, (now) => withSpan(now, control, span) ?? now);
      else full();
    },
    tick: (control: ListControl) => (values: string[]) => {
      const own = control === "size" ? values.map(Number) : values;
      if (withList(band, control, own)) change(studyId, (now) => withList(now, control, own) ?? now);
      else full();
    },
    ticked: (control: ListControl) => (band.lists?.[control] ?? []).map(String),
    part: (part: Partial<Recipe>) => change(studyId, (b) => ({ ...b, recipe: { ...b.recipe, ...part } })),
    change: (to: (band: Band) => Band) => change(studyId, to),
  };
}

export type BandEdit = ReturnType<typeof useBandEdit>;
