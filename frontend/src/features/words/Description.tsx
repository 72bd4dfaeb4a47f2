import { Eye, X } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import type { SourceView } from "../../api/client";
import { useDescription, type SaidView } from "../../api/insight";
import { Button } from "../../ui/Button";
import { useStruck } from "./struck";

interface Props {
  source: SourceView;
  open: boolean;
  onOpen: (open: boolean) => void;
  onAdd: (phrases: string[]) => void;
}

const sureWords = (sure: number) => (sure >= 0.75 ? "sure" : sure >= 0.5 ? "likely" : "perhaps");

/** What the picture seems to be, as phrases to check: struck, edited, and added to the prompt only by hand. */
export function Description({ source, open, onOpen, onAdd }: Props) {
  const said = useDescription(source, open);
  const { struck, strike, restore } = useStruck();
  const gone = struck[source.id] ?? [];
  const left = said.data?.filter((s) => !gone.includes(s.text)) ?? [];
  const acting = left.filter((s) => s.acts);
  return (
    <Popover.Root open={open} onOpenChange={onOpen}>
      <Popover.Trigger aria-label="Describe the picture" title="Describe the picture in phrases (Z)" className="flex h-7 items-center rounded px-1.5 text-faint hover:bg-glow hover:text-amber">
        <Eye size={16} />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={6} aria-label="Description" className="z-40 w-[400px] rounded-lg border border-rule bg-sheet p-3 shadow-xl focus-visible:!outline-none">
          <p className="text-[13px] text-faint">Measured from the picture, and sometimes wrong: strike or mend what is. What would steer a take is in amber.</p>
          {said.isPending && <p className="mt-2">Looking at the picture…</p>}
          {said.error && <p role="alert" className="mt-2 text-fault">{said.error.message}</p>}
          <ul className="mt-2 flex max-h-[330px] flex-col overflow-y-auto">
            {left.map((phrase) => (
              <Row key={phrase.text} phrase={phrase} onAdd={(text) => onAdd([text])} onStrike={() => strike(source.id, phrase.text)} />
            ))}
          </ul>
          {said.data && left.length === 0 && <p className="mt-2 text-faint">Nothing is left of it.</p>}
          <div className="mt-2 flex items-center gap-2 border-t border-rule pt-2">
            <Button weight="main" disabled={!acting.length} onClick={() => onAdd(acting.map((s) => s.text))}>
              Add the {acting.length} that steer
            </Button>
            {gone.length > 0 && (
              <Button weight="quiet" onClick={() => restore(source.id)}>
                Bring back {gone.length} struck
              </Button>
            )}
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Row({ phrase, onAdd, onStrike }: { phrase: SaidView; onAdd: (text: string) => void; onStrike: () => void }) {
  const [text, setText] = useState(phrase.text);
  return (
    <li className="flex h-8 items-center gap-2">
      <input
        aria-label={`Phrase ${phrase.text}`}
        value={text}
        maxLength={120}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => event.key === "Enter" && onAdd(text)}
        className={`h-7 min-w-0 flex-1 rounded border border-transparent bg-transparent px-1 hover:border-rule focus:border-amber focus:outline-none ${phrase.acts ? "font-semibold text-amber" : ""}`}
      />
      <span className="w-[92px] shrink-0 text-xs text-faint">
        {sureWords(phrase.sure)}
        <span className="mt-0.5 block h-1 rounded-full bg-rule">
          <span className="block h-1 rounded-full bg-teal" style={{ width: `${phrase.sure * 100}%` }} />
        </span>
      </span>
      <Button weight="quiet" className="h-7 px-2" onClick={() => onAdd(text)}>Add</Button>
      <button type="button" aria-label={`Strike ${phrase.text}`} title="Wrong: strike it" onClick={onStrike} className="rounded p-1 text-faint hover:bg-glow hover:text-fault">
        <X size={15} />
      </button>
    </li>
  );
}
