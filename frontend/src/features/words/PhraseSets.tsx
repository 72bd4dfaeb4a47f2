import { BookMarked, Trash2 } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import { useChangePhrases, useForgetPhrases, useKeepPhrases, usePhraseSets, type PhraseSetView } from "../../api/insight";
import { sayFault, useNotices } from "../../common/notices";
import { Button } from "../../ui/Button";

interface Words {
  prompt: string;
  avoid: string;
}

/** Prompts kept under a name, with what they avoid: used again in any study. */
export function PhraseSets({ words, onUse, onAdd }: { words: Words; onUse: (words: Words) => void; onAdd: (words: Words) => void }) {
  const sets = usePhraseSets();
  const keep = useKeepPhrases();
  const [name, setName] = useState("");
  const some = Boolean(words.prompt || words.avoid);
  const save = () => {
    const title = name.trim() || (words.prompt || words.avoid).slice(0, 40);
    keep.mutate({ name: title, ...words }, { onSuccess: () => setName(""), onError: sayFault });
  };
  return (
    <Popover.Root>
      <Popover.Trigger aria-label="Kept phrases" title="Phrases kept under a name" className="flex h-7 items-center rounded px-1.5 text-faint hover:bg-glow hover:text-amber">
        <BookMarked size={16} />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={6} aria-label="Kept phrases" className="z-40 w-[380px] rounded-lg border border-rule bg-sheet p-3 shadow-xl focus-visible:!outline-none">
          <form
            className="flex gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              save();
            }}
          >
            <input
              aria-label="Name of the phrases"
              value={name}
              maxLength={80}
              placeholder={some ? "a name for what stands there now" : "write a prompt first, then keep it here"}
              onChange={(event) => setName(event.target.value)}
              className="h-8 min-w-0 flex-1 rounded-md border border-rule bg-sheet px-2 placeholder:text-faint focus:border-amber focus:outline-none"
            />
            <Button type="submit" weight="main" disabled={!some || keep.isPending}>Keep</Button>
          </form>
          {sets.error && <p role="alert" className="mt-2 text-fault">{sets.error.message}</p>}
          {sets.data?.length === 0 && <p className="mt-2 text-[13px] text-faint">Nothing is kept yet.</p>}
          {Boolean(sets.data?.length) && (
            <ul className="mt-2 flex max-h-[280px] flex-col gap-0.5 overflow-y-auto border-t border-rule pt-2">
              {sets.data!.map((set) => (
                <Row key={set.id} set={set} onUse={() => onUse(set)} onAdd={() => onAdd(set)} />
              ))}
            </ul>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Row({ set, onUse, onAdd }: { set: PhraseSetView; onUse: () => void; onAdd: () => void }) {
  const change = useChangePhrases();
  const forget = useForgetPhrases();
  const keep = useKeepPhrases();
  const [draft, setDraft] = useState(set.name);
  const rename = () => {
    const name = draft.trim();
    if (!name) setDraft(set.name);
    else if (name !== set.name) change.mutate({ ...set, name }, { onError: sayFault });
  };
  const words = { name: set.name, prompt: set.prompt, avoid: set.avoid };
  return (
    <li className="flex items-center gap-1">
      <div className="min-w-0 flex-1">
        <input
          aria-label={`Name of ${set.name}`}
          value={draft}
          maxLength={80}
          onChange={(event) => setDraft(event.target.value)}
          onBlur={rename}
          onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
          className="h-6 w-full rounded border border-transparent bg-transparent px-1 font-semibold hover:border-rule focus:border-amber focus:outline-none"
        />
        <p className="truncate px-1 text-xs text-faint">{[set.prompt, set.avoid && `without ${set.avoid}`].filter(Boolean).join("; ")}</p>
      </div>
      <Button weight="quiet" className="h-7 px-2" title="In place of what stands there" onClick={onUse}>Use</Button>
      <Button weight="quiet" className="h-7 px-2" title="Behind what stands there" onClick={onAdd}>Add</Button>
      <button
        type="button"
        aria-label={`Forget ${set.name}`}
        className="rounded p-1.5 text-faint hover:bg-glow hover:text-fault"
        onClick={() =>
          forget.mutate(set.id, {
            onSuccess: () =>
              useNotices.getState().say(`The phrases "${set.name}" are forgotten.`, false, { title: "Undo", act: () => keep.mutate(words, { onError: sayFault }) }),
            onError: sayFault,
          })
        }
      >
        <Trash2 size={15} />
      </button>
    </li>
  );
}
