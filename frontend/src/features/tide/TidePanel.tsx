import { ChevronDown, ChevronUp } from "lucide-react";
import type { MarkView, RowTipView, StudyView, SweepView, TakeView } from "../../api/client";
import { usePreferences, type ChartView } from "../../common/preferences";
import type { Arranged } from "../../primitives/arrange";
import { tideRows, type TideRow } from "../../primitives/tide";
import { hasValues, infoOf } from "../../study/controls";
import { usePointed } from "../../study/pointed";
import { useLabels } from "../../study/useLabels";
import { NextSteps } from "./NextSteps";
import { ReadingMap } from "./ReadingMap";
import { Scatter } from "./Scatter";
import { FEWEST, stepsFrom, type StepActs } from "./steps";
import { DashSample, TideChart } from "./TideChart";
import { TideTable } from "./TideTable";

interface Props {
  study: StudyView;
  sweep: SweepView;
  arranged: Arranged<TakeView>;
  /** Takes stand in the order of their axes. */
  ordered: boolean;
  marks: Map<string, MarkView>;
  picked: string | undefined;
  chosen: string[];
  /** Rows that are read as far as to say where they give way, and what is done from there. */
  tips: RowTipView[];
  acts: StepActs;
  onPick: (take: string) => void;
  onElsewhere: (take: string, sweep: string) => void;
  onChoose: (takes: string[]) => void;
  onRegion: (region: { left: number; top: number; right: number; bottom: number } | null) => void;
}

const TITLES: Record<ChartView, string> = { tide: "Tide line", map: "Map", scatter: "All takes" };

/** Strengths of the sheet's columns, where every take stands under its own; null where they are wrapped or sorted. */
function strengthsOfColumns(arranged: Arranged<TakeView>, ordered: boolean): number[] | null {
  if (arranged.kind === "matrix") return arranged.columns?.control === "strength" ? arranged.columns.values.map(Number) : null;
  return ordered ? arranged.cells.map((cell) => Number(cell.take.recipe.strength)) : null;
}

/** Under the sheet: readings along strength and where each row gives way, as a map of two axes, or all takes as dots. */
export function TidePanel({ study, sweep, arranged, ordered, marks, picked, chosen, tips, acts, onPick, onElsewhere, onChoose, onRegion }: Props) {
  const { chart, setChart, chartHidden, setChartHidden } = usePreferences();
  const labelOf = useLabels();
  const pointed = usePointed((s) => s.take);
  if (sweep.takes.length < FEWEST) return null;
  const under = sweep.takes.find((take) => take.id === pointed && take.state === "done") ?? sweep.takes.find((take) => take.id === picked);
  const steps = stepsFrom(sweep, tips, under);
  const strengths = sweep.spans.find((span) => span.control === "strength")?.values.map(Number) ?? [];
  const numbers = [arranged.rows, arranged.columns].every((axis) => axis?.values.every((v) => typeof v === "number"));
  const views: ChartView[] = [...(strengths.length >= FEWEST ? (["tide"] as const) : []), ...(arranged.kind === "matrix" && numbers ? (["map"] as const) : []), "scatter"];
  // The dots of the whole study come when asked for; a chart that says something of this sweep comes by itself.
  const view = views.includes(chart) ? chart : (views.find((v) => v !== "scatter") ?? null);
  const rows = tideRows(sweep.takes, sweep.spans, (control, value) => `${infoOf(control)?.label ?? control} ${labelOf(control, value, sweep.spans.find((s) => s.control === control)?.values)}`);
  const has = (take: string | null | undefined) => rows.find((row) => row.points.some((p) => p.take === take));
  const inSteps = sweep.takes.find((t) => t.state === "done" && steps.row && hasValues(t.recipe, steps.row.values));
  const bold = has(pointed) ?? has(picked) ?? has(inSteps?.id) ?? rows[0];
  const tide = view === "tide";
  return (
    <section aria-label={view ? TITLES[view] : "Readings"} className="relative shrink-0 border-t border-rule bg-paper text-ink">
      {!chartHidden && tide && (
        <>
          <TideChart sweep={sweep} rows={rows} bold={bold} tip={steps.row?.tip} strengths={strengths} columns={strengthsOfColumns(arranged, ordered)} picked={picked} onPick={onPick} onBand={(low, high) => steps.row && acts.finer(steps.row, low, high)} />
          <TideTable rows={rows} strengths={strengths} tips={tips} />
        </>
      )}
      {!chartHidden && view === "map" && <ReadingMap arranged={arranged} picked={picked} onPick={onPick} />}
      {!chartHidden && view === "scatter" && <Scatter study={study} sweepId={sweep.id} marks={marks} picked={picked} chosen={chosen} onPick={onElsewhere} onChoose={onChoose} />}
      <div className="flex h-[22px] items-center gap-x-3 overflow-hidden px-3 text-[13px]">
        {tide && <NextSteps sweep={sweep} steps={steps} acts={acts} onRegion={onRegion} />}
        <div className="ml-auto flex shrink-0 items-center gap-1 text-xs">
          {tide && !chartHidden && <Legend row={bold} />}
          {(views.length > 1 || view !== views[0]) && views.map((v) => (
            <button
              key={v}
              type="button"
              aria-pressed={v === view && !chartHidden}
              onClick={() => {
                setChart(v);
                setChartHidden(false);
              }}
              className={`h-5 rounded px-1.5 font-semibold ${v === view && !chartHidden ? "bg-deep text-white" : "hover:bg-glow"}`}
            >
              {TITLES[v]}
            </button>
          ))}
          {view && (
            <button type="button" aria-expanded={!chartHidden} aria-label={chartHidden ? "Show the readings" : "Hide the readings"} title={chartHidden ? "Show the readings" : "More room for the sheet"} onClick={() => setChartHidden(!chartHidden)} className="h-5 px-0.5 text-faint hover:text-ink">
              {chartHidden ? <ChevronUp size={15} /> : <ChevronDown size={15} />}
            </button>
          )}
        </div>
      </div>
    </section>
  );
}

/** What the lines of the chart are. */
function Legend({ row }: { row: TideRow | undefined }) {
  const has = (part: "subject" | "faces") => row?.points.some((p) => p[part] !== null);
  return (
    <span aria-hidden className="mr-1 flex gap-2 whitespace-nowrap text-faint">
      <span><i className="mr-1 inline-block w-4 border-t-2 border-teal align-middle" />kept</span>
      {(["subject", "faces"] as const).map((part) => has(part) && <span key={part}><DashSample part={part} />{part}</span>)}
      <span><i className="mr-1 inline-block w-4 border-t border-dashed border-faint align-middle" />look</span>
    </span>
  );
}
