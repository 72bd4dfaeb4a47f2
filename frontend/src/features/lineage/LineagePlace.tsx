import { ArrowLeft } from "lucide-react";
import { useMemo, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import type { StudyView } from "../../api/client";
import { useLineage } from "../../api/lineage";
import { useKeys } from "../../common/keys";
import { SURROUND_CLASS, usePreferences } from "../../common/preferences";
import { walked, type Way } from "../../primitives/walk";
import { Button, KeyCap } from "../../ui/Button";
import { planned } from "./layout";
import { Strip } from "./Strip";
import { Tree } from "./Tree";
import { useSteps } from "./useSteps";

const NOTHING: readonly string[] = [];

/** What changes a study's tree: its sources, its sweeps, marks, takes that arrive. */
function seenOf(study: StudyView): string {
  const done = study.sweeps.reduce((sum, sweep) => sum + sweep.takes.filter((take) => take.state === "done").length, 0);
  const kept = study.marks.filter((mark) => mark.value === "keep").map((mark) => mark.take_id);
  return [study.sources.length, study.sweeps.length, done, ...kept.sort()].join(" ");
}

/** How the pictures of a study came about: all of its steps, and the way to the one that is picked. Over Desk and Bench, and back to where it was opened. */
export function LineagePlace({ study }: { study: StudyView }) {
  const navigate = useNavigate();
  const [address, setAddress] = useSearchParams();
  const surround = usePreferences((s) => s.surround);
  // What is picked changes at once, and the address follows: that is drawn later, and a key or a click in between must find what stands.
  const [{ of, and }, setStanding] = useState({ of: address.get("of"), and: address.get("and") });
  const seen = seenOf(study);
  const tree = useLineage(study.id, of, address.get("begun"), seen);
  const nodes = tree.data?.nodes;
  const plan = useMemo(() => (nodes ? planned(nodes) : null), [nodes]);
  const way = useMemo(() => new Set(tree.data?.way ?? NOTHING), [tree.data?.way]);
  const named = (name: string | null) => nodes?.find((node) => node.id === name || (name !== null && node.also.includes(name)));
  const picked = named(of);
  const beside = named(and);
  const steps = useSteps(study);

  const go = (next: { of: string | null; and: string | null }) => {
    setStanding(next);
    setAddress((now) => {
      const all = { ...Object.fromEntries(now), ...next };
      return Object.fromEntries(Object.entries(all).filter((entry): entry is [string, string] => Boolean(entry[1])));
    }, { replace: true });
  };
  const pick = (id: string, second: boolean) => go(second && picked && id !== picked.id ? { of, and: id } : { of: id, and: null });
  const walk = (where: Way) => {
    const next = plan && walked(plan.steps, picked?.id ?? null, where);
    if (next) pick(next, false);
  };
  const back = () => void (window.history.length > 1 ? navigate(-1) : navigate(`/study/${study.id}`));
  const canCompare = steps.canCompare(picked, beside);
  const compare = () => canCompare && steps.toBench(picked!, beside!);
  const canBegin = steps.canBegin(picked);
  const again = () => canBegin && steps.again(picked!);
  useKeys({
    ArrowLeft: () => walk("back"), ArrowRight: () => walk("on"), ArrowUp: () => walk("up"), ArrowDown: () => walk("down"),
    Home: () => walk("first"), End: () => walk("last"),
    Enter: () => picked && steps.open(picked), b: compare, n: again, Escape: () => (beside ? go({ of, and: null }) : back()),
  });

  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="flex h-10 shrink-0 items-center gap-3 border-b border-rule bg-paper px-3">
        <button type="button" aria-label="Back" title="Back (Esc)" onClick={back} className="rounded p-1 text-faint hover:bg-glow hover:text-ink"><ArrowLeft size={16} /></button>
        <h1 className="text-[15px] font-semibold">How it came about</h1>
        <span className="min-w-0 truncate text-[13px] text-faint">{hint(picked !== undefined, beside !== undefined)}</span>
        <div className="ml-auto flex items-center gap-2">
          <Button disabled={!picked} onClick={() => picked && steps.open(picked)}>Open it <KeyCap>Enter</KeyCap></Button>
          <Button disabled={!canCompare} onClick={compare}>Both on the bench <KeyCap>B</KeyCap></Button>
          <Button disabled={!canBegin} onClick={again} title="Its settings and its source into the band: a branch begins here">From here again <KeyCap>N</KeyCap></Button>
        </div>
      </div>
      <main className={`flex min-h-0 flex-1 flex-col ${SURROUND_CLASS[surround]}`}>
        {tree.error && <p role="alert" className="p-8 text-fault">{tree.error.message}</p>}
        {tree.isPending && <p className="p-8">Reading how it came about…</p>}
        {plan && <Tree plan={plan} picked={picked?.id ?? null} beside={beside?.id ?? null} way={way} onPick={pick} onOpen={(id) => steps.open(named(id)!)} />}
      </main>
      <Strip studyId={study.id} of={picked && picked.kind !== "sweep" ? picked.id : null} seen={seen} onPick={(id) => pick(id, false)} />
    </div>
  );
}

function hint(picked: boolean, beside: boolean): string {
  if (!picked) return "Pick a picture: the way that led to it lights up.";
  return beside ? "" : "Shift and a click picks a second one, to compare.";
}
