import { useMemo } from "react";
import type { Choices, SourceView } from "../../api/client";
import { lookPreview } from "../../api/insight";
import { useHealth } from "../../api/queries";
import { isOurs } from "../../primitives/engines";
import { lookSections } from "../../primitives/looks";
import type { Band } from "../../study/band";
import { looksMadeFor } from "../../study/controls";
import { useDeskView } from "../../study/view";
import { TickButton } from "../../ui/ListPicker";
import { usePreviews } from "../looks/usePreviews";
import type { BandEdit } from "./useBandEdit";

interface Props {
  source: SourceView;
  band: Band;
  edit: BandEdit;
  choices: Choices;
  busy: boolean;
  onTryLooks: () => void;
}

/** The look, with its own small picture of this source; opens all of them. */
export function LookButton({ source, band, edit, choices, busy, onTryLooks }: Props) {
  const { over, toggle } = useDeskView();
  const engine = useHealth().data?.engine;
  const name = band.recipe.look ?? "";
  const own = isOurs(band.recipe);
  const wanted = useMemo(() => (engine && name && own ? [{ name, address: lookPreview(source, name, engine) }] : []), [source, name, engine, own]);
  const preview = usePreviews(wanted)[name];
  const options = useMemo(
    () => lookSections(choices.looks, source.kind, []).flatMap((section) => section.looks.map((l) => ({ value: l.name, title: l.title, detail: "", group: section.heading }))),
    [choices.looks, source.kind],
  );
  const look = choices.looks.find((l) => l.name === name);
  const ticked = edit.ticked("look");
  const title = ticked.length > 1 ? `${ticked.length} looks` : (look?.title ?? name);
  return (
    <div className="flex min-w-0 gap-2">
      <button
        type="button"
        aria-expanded={over === "looks"}
        aria-label={`Look: ${look?.title ?? name}`}
        title="Every look on this very picture (J)"
        onClick={() => toggle("looks")}
        className={`mt-0.5 flex h-14 w-14 shrink-0 items-center justify-center overflow-hidden rounded-md border-2 bg-mid ${over === "looks" ? "border-amber" : "border-rule hover:border-faint"}`}
      >
        {preview && <img src={preview} alt="" draggable={false} className="h-full w-full object-cover" />}
      </button>
      <div className="min-w-0 flex-1">
        <div className="flex h-6 items-center gap-1">
          <span className="font-semibold">Look</span>
          <TickButton label="Look" options={options} value={name} ticked={ticked} onTick={edit.tick("look")} />
        </div>
        <p className={`truncate leading-5 font-semibold ${ticked.length > 1 ? "text-amber" : ""}`} title={title}>{title}</p>
        <button
          type="button"
          disabled={busy}
          title="One take in every look made for this kind of picture, with everything else as the band says (A)"
          onClick={onTryLooks}
          className="h-4 truncate rounded text-left text-xs leading-4 text-amber underline-offset-2 hover:underline disabled:text-faint"
        >
          try all {looksMadeFor(choices.looks, source.kind).length}
        </button>
      </div>
    </div>
  );
}
