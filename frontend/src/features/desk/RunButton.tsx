import { Play } from "lucide-react";
import type { PlanView } from "../../api/client";
import { disk, duration } from "../../primitives/words";
import { turned, type Band } from "../../study/band";
import { axesOf, axisName } from "../../study/controls";
import { Button, KeyCap } from "../../ui/Button";
import type { BandEdit } from "./useBandEdit";

interface Props {
  plan: PlanView | undefined;
  refusal: string | null;
  busy: boolean;
  onRun: () => void;
}

/** Runs what the band says, and what that will cost. */
export function RunButton({ plan, refusal, busy, onRun }: Props) {
  return (
    <div className="flex min-w-0 flex-col items-stretch gap-1 pt-1">
      <Button weight="main" className="h-9 px-2" title="Run what the band says (R)" disabled={busy || refusal !== null || !plan} onClick={onRun}>
        <Play size={15} /> {plan && plan.takes > 1 ? `Run ${plan.takes} takes` : "Run"}
      </Button>
      <p className="h-4 truncate text-center text-xs leading-4 text-faint" data-testid="plan">
        {plan && !refusal && planWords(plan)}
      </p>
    </div>
  );
}

function planWords(plan: PlanView): string {
  const fresh = plan.takes - plan.existing;
  if (!fresh) return plan.takes === 1 ? "this take exists" : "all of them exist";
  const exist = plan.existing ? `, ${plan.existing} exist` : "";
  return `${fresh} new${exist}: ${duration(plan.seconds)}, ${disk(plan.bytes)}`;
}

const WAYS = ["\u2192", "\u2193", "by page"];

/** Which axis runs across, which down, which by page; turned by a click. */
export function AxesButton({ band, edit }: { band: Band; edit: BandEdit }) {
  const axes = axesOf(band);
  if (axes.length < 2) return null;
  return (
    <button type="button" title="Turn the axes: what runs across, down and by page (Y)" data-testid="axes" onClick={() => edit.change(turned)} className="flex h-5 shrink-0 items-center gap-1.5 truncate rounded px-1 text-xs text-amber hover:underline">
      {axes.map((axis, i) => `${axisName(axis).replace(/^Hold /, "")} ${WAYS[i]}`).join("  ")} <KeyCap>Y</KeyCap>
    </button>
  );
}
