import type { SweepView } from "../../api/client";
import { place } from "../../primitives/reading";
import { partWords, tipShort, tipWords } from "../../primitives/tip";
import { infoOf } from "../../study/controls";
import { useLabels } from "../../study/useLabels";
import { KeyCap } from "../../ui/Button";
import type { StepActs, TipSteps } from "./steps";

interface Props {
  sweep: SweepView;
  steps: TipSteps;
  acts: StepActs;
  onRegion: (region: { left: number; top: number; right: number; bottom: number } | null) => void;
}

const STEP = "flex h-5 shrink-0 items-center gap-1 rounded px-1.5 font-semibold whitespace-nowrap text-amber hover:bg-glow";

/** Where the row that is looked at gives way, where in the picture first, and the next steps from there. */
export function NextSteps({ sweep, steps, acts, onRegion }: Props) {
  const labelOf = useLabels();
  const { row } = steps;
  if (!row?.tip) return <span className="text-faint">Where it gives way is said once three takes of a row are done.</span>;
  const name = Object.entries(row.values).map(([control, value]) => `${infoOf(control)?.label ?? control} ${labelOf(control, value, sweep.spans.find((s) => s.control === control)?.values)}`).join(", ");
  const first = row.place;
  const { low, high } = row.tip;
  return (
    <>
      <p aria-label="Where it gives way" role="status" title={`${tipWords(row.tip)} ${partWords(row.parts ?? [])}`} className="min-w-0 shrink truncate">
        {name && <span className="text-faint">{name}: </span>}
        <span className={steps.gives ? "font-semibold" : ""}>{tipShort(row.tip)}</span>
        {partWords(row.parts ?? []) && <span> {partWords(row.parts ?? [])}</span>}
      </p>
      {first?.tip.outcome === "tip" && (
        <button
          type="button"
          title="Point here to see the place boxed on the source"
          onPointerEnter={() => onRegion(first.region)}
          onPointerLeave={() => onRegion(null)}
          onFocus={() => onRegion(first.region)}
          onBlur={() => onRegion(null)}
          className="shrink-0 rounded text-teal underline decoration-dotted underline-offset-2"
        >
          first {place(first.region)}, at {first.tip.strength!.toFixed(2)}
        </button>
      )}
      {steps.canHold && (
        <button type="button" title="The same sweep with its lines and shapes held: the look may then be stronger" onClick={acts.hold} className={STEP}>
          hold its lines and go on <KeyCap>Shift H</KeyCap>
        </button>
      )}
      {steps.gives && (
        <button type="button" title="Puts this stretch of strength into the band, in steps of a fifth of it, with the seed as it is" onClick={() => acts.finer(row, low!, high!)} className={STEP}>
          sweep {low!.toFixed(2)} to {high!.toFixed(2)} finer <KeyCap>Shift F</KeyCap>
        </button>
      )}
      {steps.last && (
        <button type="button" title="Go to the last take of this row that keeps the composition" onClick={() => acts.go(steps.last!.id)} className={STEP}>
          the last that keeps it <KeyCap>Shift K</KeyCap>
        </button>
      )}
    </>
  );
}
