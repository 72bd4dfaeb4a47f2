import { ChevronLeft, ChevronRight } from "lucide-react";

interface Axis {
  control: string;
  values: (number | string)[];
}

interface Props {
  spans: Axis[];
  /** The take's place along the spans. */
  at: number[];
  labelOf: (control: string, value: number | string, all?: (number | string)[]) => string;
  nameOf: (control: string) => string;
  /** Steps along columns, rows and pages. */
  steps: { less: () => void; more: () => void }[];
}

const KEYS = ["\u2190 \u2192", "\u2191 \u2193", "PageUp PageDown"];
const BUTTON = "rounded p-0.5 text-faint hover:bg-glow hover:text-amber disabled:opacity-30";

/** The take's value on each axis, with the next one on either side. */
export function AxisSteps({ spans, at, labelOf, nameOf, steps }: Props) {
  return (
    <div className="flex shrink-0 gap-3">
      {[...spans].reverse().map((span, k) => {
        const place = at[spans.length - 1 - k] ?? 0;
        const { less, more } = steps[k]!;
        return (
          <span key={span.control} role="group" aria-label={nameOf(span.control)} title={KEYS[k]} className="flex items-center text-[13px]">
            <button type="button" aria-label={`${nameOf(span.control)}: the value before`} disabled={place === 0} onClick={less} className={BUTTON}><ChevronLeft size={15} /></button>
            <span className="text-faint">{nameOf(span.control)}</span>&nbsp;
            <span className="max-w-28 truncate font-semibold">{labelOf(span.control, span.values[place]!, span.values)}</span>
            <button type="button" aria-label={`${nameOf(span.control)}: the next value`} disabled={place >= span.values.length - 1} onClick={more} className={BUTTON}><ChevronRight size={15} /></button>
          </span>
        );
      })}
    </div>
  );
}
