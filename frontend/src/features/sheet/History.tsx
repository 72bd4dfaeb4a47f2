import { ChevronDown, Copy, Trash2 } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import type { Choices, StudyView, SweepView } from "../../api/client";
import { useDeleteSweep } from "../../api/queries";
import { sayFault, useNotices } from "../../common/notices";
import { axisName } from "../../study/controls";
import { OVER } from "../../ui/over";
import { lookTitle } from "../../primitives/engines";

interface Props {
  study: StudyView;
  sweep: SweepView;
  choices: Choices;
  onSweep: (id: string) => void;
  /** Its settings and spans into the band. */
  onAgain: (sweep: SweepView) => void;
}

const time = (created: string) => new Date(created).toLocaleString([], { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });

export function sweepWords(sweep: SweepView, choices: Choices): string {
  const look = lookTitle(choices, sweep.recipe);
  const axes = [...sweep.spans].reverse().map((s) => axisName(s.control).toLowerCase());
  if (sweep.spans.length === 1 && sweep.spans[0]!.control === "look") return `${sweep.takes.length} looks, strength ${sweep.recipe.strength?.toFixed(2)}`;
  const fixed = sweep.spans.some((s) => s.control === "strength") ? "" : `, strength ${sweep.recipe.strength?.toFixed(2)}`;
  return `${look}${axes.length ? `: ${axes.join(" by ")}` : ""}${fixed}`;
}

/** Everything a sweep can be found by: looks, words, seeds, date, source. */
export function findable(sweep: SweepView, choices: Choices, study: StudyView): string {
  const seeds = sweep.spans.find((s) => s.control === "seed")?.values ?? [sweep.recipe.seed];
  const looks = (sweep.spans.find((s) => s.control === "look")?.values ?? [sweep.recipe.look]).map((name) => choices.looks.find((l) => l.name === name)?.title ?? name);
  const prompts = sweep.spans.find((s) => s.control === "prompt")?.values ?? [sweep.recipe.prompt];
  const source = study.sources.find((s) => s.id === sweep.source_id)?.name ?? "";
  const marks = sweep.takes.map((t) => study.marks.find((m) => m.take_id === t.id)).filter(Boolean);
  return [sweepWords(sweep, choices), ...looks, ...prompts, sweep.recipe.avoid, ...seeds.map((s) => `seed ${s}`), time(sweep.created), source, ...marks.map((m) => `${m!.value ?? ""} ${m!.note}`)].join(" ").toLowerCase();
}

/** Every sweep of the study: found by look, words, seed or date, shown, run again, deleted and taken back. */
export function History({ study, sweep, choices, onSweep, onAgain }: Props) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState("");
  const remove = useDeleteSweep(study.id);
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const found = [...study.sweeps].reverse().filter((s) => {
    const text = findable(s, choices, study);
    return words.every((word) => text.includes(word));
  });
  const kept = (s: SweepView) => s.takes.filter((t) => study.marks.some((m) => m.take_id === t.id && m.value === "keep")).length;
  const forget = (gone: SweepView) =>
    remove.mutate({ id: gone.id }, {
      onSuccess: () => useNotices.getState().say(`Deleted: ${sweepWords(gone, choices)}.`, false, { title: "Take it back", act: () => remove.mutate({ id: gone.id, back: true }, { onError: sayFault }) }),
      onError: sayFault,
    });
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger aria-label="Sweeps of this study" title="Every sweep of this study" className={`inline-flex h-6 max-w-full min-w-0 items-center gap-1.5 rounded-md px-2 font-semibold ${OVER}`}>
        <span className="truncate">{sweepWords(sweep, choices)}</span>
        <ChevronDown size={14} className="shrink-0" />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="start" sideOffset={4} aria-label="Sweeps of this study" className="z-40 flex max-h-[60vh] w-[420px] flex-col rounded-lg border border-rule bg-sheet p-1.5 text-ink shadow-xl">
          <input
            aria-label="Find a sweep"
            placeholder="look, words, seed 7, 25 Nov, a note"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            className="mb-1 h-7 rounded-md border border-rule bg-paper px-2 placeholder:text-faint focus:border-amber focus:outline-none"
          />
          <ul className="m-0 list-none overflow-y-auto p-0">
            {found.map((s) => (
              <li key={s.id} className={`flex items-center rounded ${s.id === sweep.id ? "bg-glow" : "hover:bg-paper"}`}>
                <button
                  type="button"
                  aria-current={s.id === sweep.id}
                  onClick={() => {
                    onSweep(s.id);
                    setOpen(false);
                  }}
                  className="min-w-0 flex-1 px-2 py-1 text-left"
                >
                  <span className="block truncate font-semibold">{sweepWords(s, choices)}</span>
                  <span className="block truncate text-xs text-faint">
                    {time(s.created)}, {s.takes.length === 1 ? "1 take" : `${s.takes.length} takes`}{kept(s) > 0 && `, ${kept(s)} kept`}{s.recipe.prompt && `, “${s.recipe.prompt}”`}
                  </span>
                </button>
                <button type="button" aria-label={`Settings of ${sweepWords(s, choices)} to the band`} title="Same again: its settings and spans into the band" onClick={() => { onAgain(s); setOpen(false); }} className="rounded p-1 text-faint hover:text-amber"><Copy size={15} /></button>
                <button type="button" aria-label={`Delete ${sweepWords(s, choices)}`} title="Delete; it can be taken back" onClick={() => forget(s)} className="rounded p-1 text-faint hover:text-fault"><Trash2 size={15} /></button>
              </li>
            ))}
            {!found.length && <li className="px-2 py-1 text-faint">No sweep says that; try a look, a word of the prompt, or “seed 7”.</li>}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
