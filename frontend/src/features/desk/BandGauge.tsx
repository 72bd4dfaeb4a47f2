import type { SourceView } from "../../api/client";
import type { HoldName } from "../../api/insight";
import { isOurs } from "../../primitives/engines";
import { readStrength } from "../../primitives/strength";
import type { Band } from "../../study/band";
import { infoOf, isHold, valueIn, type Control } from "../../study/controls";
import { Gauge } from "../../ui/Gauge";
import { Explain } from "../explain/Explain";
import { EXPLAINED } from "../explain/words";
import { HoldEye } from "../holds/HoldEye";
import type { BandEdit } from "./useBandEdit";

interface Props {
  control: Control;
  source: SourceView;
  band: Band;
  edit: BandEdit;
  /** Where the value usually lies. */
  usual?: [number, number];
  /** Apart from the control's own, where it stands a second time. */
  id?: string;
}

/** A control of the band as a gauge, with what shows and explains it. */
export function BandGauge({ control, source, band, edit, usual, id = `control-${control}` }: Props) {
  const info = infoOf(control)!;
  const own = info.label.replace(/^(Hold|Look) /, "");
  const hold = isHold(control);
  // What shows and explains a control is drawn by the built-in engine.
  const ours = isOurs(band.recipe);
  return (
    <Gauge
      {...info}
      short={own.charAt(0).toUpperCase() + own.slice(1)}
      id={id}
      focusName={control}
      value={valueIn(band.recipe, control) as number}
      span={band.spans[control] ?? null}
      onValue={edit.put(control)}
      onSpan={edit.stretch(control)}
      read={control === "strength" ? readStrength : undefined}
      usual={hold ? (source.hold_ranges[control] as [number, number] | undefined) : usual}
      beside={
        <>
          {hold && ours && <HoldEye hold={control as HoldName} />}
          {EXPLAINED[control] && ours && <Explain control={control} label={info.label} source={source} recipe={band.recipe} onTake={(v) => edit.put(control)(Number(v))} />}
        </>
      }
    />
  );
}
