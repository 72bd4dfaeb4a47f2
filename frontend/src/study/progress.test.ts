import { expect, it } from "vitest";
import type { SweepView, TakeView } from "../api/client";
import { isRunning, progressOf } from "./progress";

const take = (id: string, state: TakeView["state"], step = 0): TakeView =>
  ({ id, state, step, steps: 10, expected: 2, seconds: state === "done" ? 4 : null }) as TakeView;
const sweep = (...takes: TakeView[]) => ({ takes }) as SweepView;

it("counts shared takes once and scales what is left by what was spent", () => {
  const a = sweep(take("1", "done"), take("2", "running", 5));
  const b = sweep(take("2", "running", 5), take("3", "queued"), take("4", "failed"));
  expect(progressOf([a, b], 2)).toEqual({ done: 1, total: 4, failed: 1, open: 2, secondsLeft: 3 });
});
it("knows a finished sweep", () => {
  expect(isRunning(sweep(take("1", "done"), take("2", "stopped")))).toBe(false);
  expect(isRunning(sweep(take("1", "queued")))).toBe(true);
});
