import type { Choices, SourceView } from "../../api/client";
import type { Band } from "../../study/band";
import type { ListControl } from "../../study/controls";
import { ListPicker } from "../../ui/ListPicker";
import { Explain } from "../explain/Explain";
import { isOurs, offeredBy, withEngine } from "../../primitives/engines";
import { listOptions } from "./listOptions";
import type { BandEdit } from "./useBandEdit";

const LABELS = { size: "Size", quality: "Quality", engine: "Engine", sampler: "Sampler", source: "Source" };

interface Props {
  control: Exclude<ListControl, "look">;
  source: SourceView;
  sources: SourceView[];
  band: Band;
  edit: BandEdit;
  choices: Choices;
  onSource: (id: string) => void;
}

/** A control of the band that is a choice: one value, or ticked ones as an axis. */
export function BandList({ control, source, sources, band, edit, choices, onSource }: Props) {
  const { recipe } = band;
  const label = LABELS[control];
  const offered = offeredBy(choices, recipe.engine);
  const value = control === "source" ? source.id : String(recipe[control] ?? "");
  const pick = (picked: string) => {
    if (control === "source") onSource(picked);
    else if (control === "engine") edit.part(withEngine(choices, recipe, picked));
    else edit.part({ [control]: control === "size" ? Number(picked) : picked });
  };
  const tick = (values: string[]) => {
    edit.tick(control)(values);
    // The first of several engines is the one whose looks stand in the band.
    if (control === "engine" && values.length) edit.part(withEngine(choices, recipe, values[0]!));
  };
  return (
    <div className="flex min-w-0 items-center">
      <span className="flex w-[68px] shrink-0 items-center font-semibold">
        {label}
        {control === "sampler" && isOurs(recipe) && (
          <Explain control="sampler" label="Sampler" source={source} recipe={recipe} titleOf={(v) => offered.samplers.find((s) => s.name === v)?.title ?? String(v)} onTake={(v) => pick(String(v))} />
        )}
      </span>
      <ListPicker label={label} value={value} options={listOptions(control, offered, source, sources)} ticked={edit.ticked(control)} onPick={pick} onTick={tick} />
    </div>
  );
}
