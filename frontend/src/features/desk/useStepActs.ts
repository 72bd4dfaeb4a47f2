import type { SweepView } from "../../api/client";
import type { StudyDesk } from "../../study/useStudyDesk";
import type { StepActs } from "../tide/steps";
import type { Runs } from "./useRuns";

/** What the next steps from where a sweep gives way do. */
export const useStepActs = (sweep: SweepView | undefined, desk: StudyDesk, runs: Runs): StepActs => ({
  hold: () => sweep && runs.holdAndGoOn(sweep),
  finer: (row, low, high) => sweep && runs.finer(sweep, row.values, low, high),
  go: desk.pick,
});
