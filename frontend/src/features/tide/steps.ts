import type { RowTipView, SweepView, TakeView } from "../../api/client";
import { useTips } from "../../api/queries";
import { couldHold, lastThatKeeps } from "../../primitives/tip";
import { hasValues } from "../../study/controls";

/** So many takes are needed before a row can be said to give way. */
export const FEWEST = 3;
const NONE: RowTipView[] = [];

const strengthsOf = (sweep: SweepView | undefined): number[] => sweep?.spans.find((span) => span.control === "strength")?.values.map(Number) ?? [];

/** The rows of a sweep that are read as far as to say where they give way. */
export function useTipRows(sweep: SweepView | undefined): RowTipView[] {
  const done = sweep?.takes.filter((take) => take.state === "done").length ?? 0;
  const asked = sweep && strengthsOf(sweep).length >= FEWEST && done >= FEWEST;
  return useTips(asked ? sweep.id : null, done).data?.filter((row) => row.tip) ?? NONE;
}

/** What can be done from where a row gives way. */
export interface TipSteps {
  row: RowTipView | undefined;
  gives: boolean;
  /** Lines and shapes could be held more firmly. */
  canHold: boolean;
  /** The last take of the row that keeps the composition. */
  last: TakeView | undefined;
}

/** The next steps from the row that a take stands in; without one, from the first row that gives way. */
export function stepsFrom(sweep: SweepView, tips: RowTipView[], take: TakeView | undefined): TipSteps {
  const row = (take && tips.find((r) => hasValues(take.recipe, r.values))) ?? tips.find((r) => r.tip!.outcome === "tip") ?? tips[0];
  const tip = row?.tip;
  const kept = tip ? lastThatKeeps(tip, strengthsOf(sweep)) : null;
  const stands = (t: TakeView) => t.state === "done" && row !== undefined && hasValues(t.recipe, row.values);
  return {
    row,
    gives: tip?.outcome === "tip",
    canHold: Boolean(tip && tip.outcome !== "none" && couldHold(sweep.recipe.holds ?? {})),
    last: kept === null ? undefined : sweep.takes.find((t) => stands(t) && Math.abs((t.recipe.strength ?? 0) - kept) < 1e-6),
  };
}

/** What the steps do when they are taken. */
export interface StepActs {
  hold: () => void;
  finer: (row: RowTipView, low: number, high: number) => void;
  go: (take: string) => void;
}
