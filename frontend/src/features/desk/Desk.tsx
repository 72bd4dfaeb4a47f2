import { useEffect, useMemo, useState } from "react";
import type { Choices, StudyView, SweepRequest, SweepView } from "../../api/client";
import { usePlan, useRunSweep, useGround } from "../../api/queries";
import { sayFault, useNotices } from "../../app/notices";
import { SURROUND_CLASS, usePreferences } from "../../app/preferences";
import { useKeys } from "../../app/keys";
import { Picker } from "../../ui/Picker";
import { useBands } from "./band";
import { BandBar } from "./BandBar";
import { CONTROLS, infoOf, looksRequest, requestOf } from "./controls";
import { Sheet } from "./Sheet";
import { TakePanel } from "./TakePanel";
import { useStudyDesk } from "./useStudyDesk";
import { sourceImage } from "../../api/client";

const DEBOUNCE = 180;

/** Where the sweep lives. */
export function Desk({ study, choices }: { study: StudyView; choices: Choices }) {
  const desk = useStudyDesk(study);
  const { sweep, take, picked } = desk;
  const bands = useBands();
  const begin = bands.begin;
  const band = bands.bands[study.id];
  const source = study.sources.at(-1)!;
  const surround = usePreferences((s) => s.surround);

  useEffect(() => {
    const last = study.sweeps.at(-1);
    // A new study begins with what most artists do first: the whole range of strengths, few and cheap.
    const first = infoOf("strength")!.stretched!;
    begin(study.id, last ? { recipe: last.recipe, spans: {} } : { recipe: choices.defaults, spans: { strength: first } });
  }, [begin, choices.defaults, study.id, study.sweeps]);

  const wanted = useMemo(() => (band ? requestOf(source.id, band.recipe, band.spans) : null), [band, source.id]);
  const request = useDebounced(wanted, DEBOUNCE);
  const plan = usePlan(request);
  const runSweep = useRunSweep(study.id);
  const start = (asked: SweepRequest | null) => {
    if (!asked || runSweep.isPending) return;
    runSweep.mutate(asked, {
      onSuccess: (made) => {
        desk.showSweep(study.id, made.id);
        desk.pick(undefined);
        if (made.takes.every((t) => t.state === "done")) useNotices.getState().say("All of these takes exist already; here they are.");
      },
      onError: sayFault,
    });
  };

  const run = () => start(wanted);
  const tryLooks = () => band && start(looksRequest(source.id, band.recipe, choices.looks));

  const takes = sweep?.takes ?? [];
  const columns = sweep?.spans.length === 2 ? sweep.spans[1]!.values.length : takes.length;
  const go = (by: number) => {
    const at = takes.findIndex((t) => t.id === picked);
    const next = takes[at < 0 ? 0 : at + by];
    if (next) desk.pick(next.id);
  };
  const focus = (control: string) => () => document.getElementById(`control-${control}`)?.focus();

  useKeys(
    {
      ...desk.keys,
      r: run,
      a: tryLooks,
      Enter: () => take?.state === "done" && desk.open(),
      Escape: () => desk.pick(undefined),
      ArrowRight: () => go(1),
      ArrowLeft: () => go(-1),
      ArrowDown: () => go(columns),
      ArrowUp: () => go(-columns),
      "ctrl+z": () => bands.undo(study.id),
      "ctrl+y": () => bands.redo(study.id),
      w: (event) => {
        event.preventDefault();
        document.getElementById("words-prompt")?.focus();
      },
      ...Object.fromEntries(CONTROLS.map(({ control }, i) => [String(i + 1), focus(control)])),
    },
    desk.keysUp,
  );

  if (!band) return null;
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <BandBar
        studyId={study.id}
        source={source}
        band={band}
        choices={choices}
        plan={plan.data}
        refusal={plan.error?.message ?? null}
        busy={runSweep.isPending}
        onRun={run}
        onTryLooks={tryLooks}
      />
      <div className="flex min-h-0 flex-1">
        <main className={`flex min-w-0 flex-1 flex-col ${SURROUND_CLASS[surround]}`}>
          {sweep && (
            <SheetHead study={study} sweep={sweep} choices={choices} onShow={(id) => desk.showSweep(study.id, id)} />
          )}
          {sweep && desk.source ? (
            <Sheet sweep={sweep} source={desk.source} marks={desk.marks} picked={picked} blinking={desk.blinking} onPick={desk.pick} onOpen={desk.open} />
          ) : (
            <Begin study={study} size={band.recipe.size ?? 512} />
          )}
        </main>
        <TakePanel
          take={take}
          source={desk.source ?? source}
          mark={take && desk.marks.get(take.id)}
          choices={choices}
          onMark={desk.setMark}
          onOpen={() => desk.open()}
          onCopy={desk.copy}
          empty={sweep ? "Pick a take to judge it: keep, maybe or drop. Hold B to see the source in its place; Enter takes it to the bench." : "Takes are judged here, once there are some."}
        />
      </div>
    </div>
  );
}

/** Which sweep is on the sheet. */
function SheetHead({ study, sweep, choices, onShow }: { study: StudyView; sweep: SweepView; choices: Choices; onShow: (id: string) => void }) {
  if (study.sweeps.length < 2) return <div className="px-4 pt-2.5 text-[13px] opacity-85">{sweepWords(sweep, choices)}</div>;
  return (
    <div className="flex items-center gap-3 px-4 pt-2 text-ink">
      <div className="w-[400px] max-w-full">
        <Picker
          label="Sweep on the sheet"
          value={sweep.id}
          options={[...study.sweeps].reverse().map((s) => ({
            value: s.id,
            title: sweepWords(s, choices),
            detail: `${s.takes.length} takes, ${new Date(s.created).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" })}`,
          }))}
          onPick={onShow}
        />
      </div>
    </div>
  );
}

function sweepWords(sweep: SweepView, choices: Choices): string {
  const look = choices.looks.find((l) => l.name === sweep.recipe.look)?.title ?? sweep.recipe.look;
  const axes = [...sweep.spans].reverse().map((s) => (infoOf(s.control)?.label ?? s.control).toLowerCase());
  if (sweep.spans.length === 1 && sweep.spans[0]!.control === "look") return `${sweep.takes.length} looks, strength ${sweep.recipe.strength?.toFixed(2)}`;
  const fixed = sweep.spans.some((s) => s.control === "strength") ? "" : `, strength ${sweep.recipe.strength?.toFixed(2)}`;
  return `${look}${axes.length ? `: ${axes.join(" by ")}` : ""}${fixed}`;
}

/** The desk of a new study: the source, and what to do first. */
function Begin({ study, size }: { study: StudyView; size: number }) {
  const source = study.sources.at(-1)!;
  const ground = useGround(study.id);
  return (
    <div className="flex min-h-0 flex-1 flex-col items-center justify-center gap-4 p-6">
      <img src={sourceImage(source, size)} alt={`Source ${source.name}`} className="min-h-0 max-w-full object-contain" />
      <div className="max-w-[560px] text-center">
        <p className="font-semibold">
          {source.name}, {source.width} × {source.height}
        </p>
        {(source.notes ?? []).map((note) => (
          <p key={note} className="text-[13px] opacity-85">{note}</p>
        ))}
        {source.has_alpha && (
          <label className="mt-1 inline-flex items-center gap-2">
            Ground behind the transparency
            <input type="color" defaultValue={source.framing.ground ?? "#ffffff"} onBlur={(e) => ground.mutate({ sourceId: source.id, ground: e.target.value })} />
          </label>
        )}
        <p className="mt-2">
          Press Run: each strength in the band becomes a take beside this source. Any control stretches the same way: pull the
          second handle out of its thumb.
        </p>
      </div>
    </div>
  );
}

function useDebounced<T>(value: T, wait: number): T {
  const [held, setHeld] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setHeld(value), wait);
    return () => clearTimeout(timer);
  }, [value, wait]);
  return held;
}
