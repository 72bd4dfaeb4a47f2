import type { SweepView, TakeView } from "../api/client";

export interface Progress {
  done: number;
  total: number;
  failed: number;
  open: number;
  secondsLeft: number;
}

const isOpen = (take: TakeView) => take.state === "queued" || take.state === "running";

/** How far the takes of some sweeps are; a take that stands in two counts once. */
export function progressOf(sweeps: SweepView[], workers: number): Progress {
  const takes = [...new Map(sweeps.flatMap((s) => s.takes).map((t) => [t.id, t])).values()];
  const done = takes.filter((t) => t.state === "done");
  const open = takes.filter(isOpen);
  const timed = done.filter((t) => t.seconds !== null && t.expected > 0.03);
  const spent = timed.reduce((sum, t) => sum + (t.seconds ?? 0), 0);
  const foreseen = timed.reduce((sum, t) => sum + t.expected, 0);
  const factor = foreseen > 0 ? spent / foreseen : 1;
  const left = open.reduce((sum, t) => sum + t.expected * (1 - (t.steps ? t.step / t.steps : 0)), 0);
  return {
    done: done.length,
    total: takes.length,
    failed: takes.filter((t) => t.state === "failed").length,
    open: open.length,
    secondsLeft: (left * factor) / Math.max(1, Math.min(workers, open.length)),
  };
}

export const isRunning = (sweep: SweepView) => sweep.takes.some(isOpen);
