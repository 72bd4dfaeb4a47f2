import { ChevronDown, ChevronUp } from "lucide-react";
import type { MarkView, RowTipView, StudyView, SweepView, TakeView } from "../../api/client";
import { useTips } from "../../api/queries";
import { usePreferences, type ChartView } from "../../common/preferences";
import type { Arranged } from "../../primitives/arrange";
import { place } from "../../primitives/reading";
import { tipWords } from "../../primitives/tip";
import { infoOf } from "../../study/controls";
import { useLabels } from "../../study/useLabels";
import { ReadingMap } from "./ReadingMap";
import { Scatter } from "./Scatter";
import { TideChart } from "./TideChart";

interface Props {
  study: StudyView;
  sweep: SweepView;
  arranged: Arranged<TakeView>;
  marks: Map<string, MarkView>;
  picked: string | undefined;
  chosen: string[];
  onPick: (take: string) => void;
  onElsewhere: (take: string, sweep: string) => void;
  onChoose: (takes: string[]) => void;
  onRegion: (region: { left: number; top: number; right: number; bottom: number } | null) => void;
  /** Sweep strength between two values, with everything else as in this row. */
  onFiner: (values: RowTipView["values"], low: number, high: number) => void;
}

const TITLES: Record<ChartView, string> = { tide: "Tide line", map: "Map", scatter: "All takes" };
const FEWEST = 3;

/** Under the sheet: readings along strength and where each row gives way, as a map of two axes, or all takes as dots. */
export function TidePanel({ study, sweep, arranged, marks, picked, chosen, onPick, onElsewhere, onChoose, onRegion, onFiner }: Props) {
  const { chart, setChart, chartHidden, setChartHidden } = usePreferences();
  const done = sweep.takes.filter((take) => take.state === "done").length;
  const swept = sweep.spans.some((span) => span.control === "strength");
  const tips = useTips(swept && done >= FEWEST ? sweep.id : null, done);
  const tide = swept && Boolean(tips.data?.some((row) => row.tip));
  const numbers = [arranged.rows, arranged.columns].every((axis) => axis?.values.every((v) => typeof v === "number"));
  const views: ChartView[] = [...(tide ? (["tide"] as const) : []), ...(arranged.kind === "matrix" && numbers && done > 1 ? (["map"] as const) : []), ...(done >= FEWEST ? (["scatter"] as const) : [])];
  if (!views.length) return null;
  // The dots of the whole study come when asked for; a chart that says something of this sweep comes by itself.
  const view = views.includes(chart) ? chart : (views.find((v) => v !== "scatter") ?? null);
  // Rows that have little to say stand two in a line.
  const quiet = (tips.data ?? []).every((row) => row.tip?.outcome !== "tip");
  return (
    <section aria-label={view ? TITLES[view] : "Readings"} className="relative border-t border-rule bg-paper pt-1.5 text-ink">
      <div className={`absolute right-3 z-10 flex items-center rounded-md border border-rule bg-sheet text-xs ${view && !chartHidden ? "-top-3.5" : "bottom-1"}`}>
        {(!chartHidden || !view) && views.map((v) => (
          <button key={v} type="button" aria-pressed={v === view} onClick={() => {
              setChart(v);
              setChartHidden(false);
            }} className={`h-6 rounded px-2 font-semibold ${v === view ? "bg-deep text-white" : "hover:bg-glow"}`}>
            {TITLES[v]}
          </button>
        ))}
        {view && <button type="button" aria-expanded={!chartHidden} aria-label={chartHidden ? "Show the readings" : "Hide the readings"} title={chartHidden ? "Show the readings" : "More room for the sheet"} onClick={() => setChartHidden(!chartHidden)} className="h-6 px-1 text-faint hover:text-ink">
          {chartHidden ? <ChevronUp size={15} /> : <ChevronDown size={15} />}
        </button>}
      </div>
      {!chartHidden && view === "tide" && (
        <>
          <TideChart sweep={sweep} tips={tips.data!} picked={picked} onPick={onPick} onBand={(low, high) => onFiner(tips.data![0]!.values, low, high)} />
          <ul aria-label="Where it gives way" className={`grid gap-x-6 gap-y-0.5 overflow-y-auto px-4 pb-1.5 text-[13px] ${quiet ? "max-h-[46px] grid-cols-2" : "max-h-[66px]"}`}>
            {tips.data!.map((row) => row.tip && <Row sweep={sweep} key={JSON.stringify(row.values)} row={row} onRegion={onRegion} onFiner={onFiner} />)}
          </ul>
        </>
      )}
      {!chartHidden && view === "map" && <ReadingMap arranged={arranged} picked={picked} onPick={onPick} />}
      {!chartHidden && view === "scatter" && <Scatter study={study} sweepId={sweep.id} marks={marks} picked={picked} chosen={chosen} onPick={onElsewhere} onChoose={onChoose} />}
    </section>
  );
}

function Row({ sweep, row, onRegion, onFiner }: { sweep: SweepView; row: RowTipView } & Pick<Props, "onRegion" | "onFiner">) {
  const labelOf = useLabels();
  const name = Object.entries(row.values).map(([control, value]) => `${infoOf(control)?.label ?? control} ${labelOf(control, value, sweep.spans.find((s) => s.control === control)?.values)}`).join(", ");
  const first = row.place;
  const said = tipWords(row.tip!);
  return (
    <li className="flex flex-wrap items-baseline gap-x-2">
      {name && <span className="min-w-[112px] text-faint">{name}</span>}
      <span className={row.tip!.outcome === "tip" ? "font-semibold" : ""}>{said}</span>
      {first?.tip.outcome === "tip" && (
        <button
          type="button"
          title="Point here to see the place boxed on the source"
          onPointerEnter={() => onRegion(first.region)}
          onPointerLeave={() => onRegion(null)}
          onFocus={() => onRegion(first.region)}
          onBlur={() => onRegion(null)}
          className="rounded text-teal underline decoration-dotted underline-offset-2"
        >
          first {place(first.region)}, at {first.tip.strength!.toFixed(2)}
        </button>
      )}
      {row.tip!.outcome === "tip" && (
        <button
          type="button"
          title="Puts this stretch of strength into the band, in steps of a fifth of it, with the seed as it is"
          onClick={() => onFiner(row.values, row.tip!.low!, row.tip!.high!)}
          className="ml-auto rounded text-amber underline-offset-2 hover:underline"
        >
          sweep {row.tip!.low!.toFixed(2)} to {row.tip!.high!.toFixed(2)} finer
        </button>
      )}
    </li>
  );
}
