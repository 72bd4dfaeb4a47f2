import { useState } from "react";
import { asDpi, lengthOf, onPaper, pixelsOf, sizedTo, type Unit } from "../../primitives/finish";
import { NumberField } from "../../ui/NumberField";

const FACTORS = [2, 3, 4] as const;

interface Props {
  width: number;
  height: number;
  /** The long side wanted, in pixels. */
  side: number;
  most: number;
  dpi: number;
  onSide: (side: number) => void;
  onDpi: (dpi: number) => void;
}

/** How large: times, pixels of the long side, or a length on paper; each says what the others then are. */
export function SizeFields({ width, height, side, most, dpi, onSide, onDpi }: Props) {
  const [unit, setUnit] = useState<Unit>("cm");
  const natural = Math.max(width, height);
  const clamp = (value: number) => onSide(Math.min(Math.max(Math.round(value), natural), most));
  const made = sizedTo(width, height, side);
  return (
    <fieldset className="flex flex-col gap-1.5">
      <legend className="mb-1 font-semibold">How large</legend>
      <div className="flex items-center gap-1.5" role="group" aria-label="Times as large">
        {FACTORS.filter((factor) => factor * natural <= most).map((factor) => (
          <button key={factor} type="button" aria-pressed={side === factor * natural} onClick={() => clamp(factor * natural)} className="h-7 w-9 rounded-md border border-rule bg-sheet font-semibold hover:border-faint aria-pressed:border-amber aria-pressed:bg-glow">
            {factor}×
          </button>
        ))}
        <NumberField label="Times as large" value={side / natural} digits={2} onCommit={(value) => clamp(value * natural)} />
        <span className="text-faint">times</span>
      </div>
      <label className="flex items-center gap-1.5">
        <NumberField label="Long side, pixels" value={side} digits={0} width="w-16" onCommit={clamp} />
        <span className="text-faint">px on the long side, to {most}</span>
      </label>
      <div className="flex flex-wrap items-center gap-1.5">
        <NumberField label="Long side on paper" value={lengthOf(side, unit, dpi)} digits={1} width="w-14" onCommit={(value) => clamp(pixelsOf(value, unit, dpi))} />
        <button type="button" title="Centimetres or inches" onClick={() => setUnit(unit === "cm" ? "inch" : "cm")} className="rounded border border-rule bg-sheet px-1.5 hover:border-faint">{unit}</button>
        <span className="text-faint">on paper at</span>
        <NumberField label="Dots per inch" value={dpi} digits={0} onCommit={(value) => onDpi(asDpi(value))} />
        <span className="text-faint">dpi</span>
      </div>
      <p className="text-[13px] text-faint">{made.width} × {made.height} px, {onPaper(made.width, made.height, dpi)}</p>
    </fieldset>
  );
}
