import { useRef, useState, type KeyboardEvent } from "react";
import type { PhraseView } from "../../api/client";
import { movedPhrase, readPhrases, writePhrase, writePhrases, type Phrase } from "../../primitives/phrases";
import { Chip } from "./Chip";

/** A phrase that is still being typed: a weight that isn't whole yet is left out. */
function unfinished(draft: string): Phrase {
  const [first] = readPhrases(draft);
  if (!first) return { text: "", weight: 1 };
  return first.text.includes("^") ? { text: first.text.split("^")[0]!.trim(), weight: 1 } : first;
}

interface Props {
  id: string;
  label: string;
  hint: string;
  text: string;
  understood: PhraseView[] | undefined;
  onText: (text: string) => void;
  /** How many rows of phrases are seen. */
  rows?: "one" | "all";
}

/** Phrases as chips and a place to type the next one: a comma or Enter makes a chip. */
export function PhraseField({ id, label, hint, text, understood, onText, rows = "all" }: Props) {
  const [draft, setDraft] = useState("");
  // All chips at once, as Ctrl A takes all words of a text.
  const [whole, setWhole] = useState(false);
  const list = useRef<HTMLUListElement>(null);
  const input = useRef<HTMLInputElement>(null);
  const all = readPhrases(text);
  // What is being typed acts already; it becomes a chip with a comma, Enter or on leaving.
  const typing = all.at(-1)?.text === unfinished(draft).text && draft !== "";
  const phrases = typing ? all.slice(0, -1) : all;
  const buttons = () => [...(list.current?.querySelectorAll<HTMLElement>("[data-phrase]") ?? [])];

  const focus = (index: number) => {
    const all = buttons();
    if (index >= all.length) input.current?.focus();
    else all[Math.max(index, 0)]?.focus();
  };
  const change = (next: typeof phrases) => onText(writePhrases(next));
  const take = (typed: string) => {
    setDraft("");
    const more = readPhrases(typed);
    if (more.length) change([...phrases, ...more]);
  };
  const typed = (value: string) => {
    const cut = Math.max(value.lastIndexOf(","), value.lastIndexOf(";"), value.lastIndexOf("\n"));
    const rest = value.slice(cut + 1).trimStart();
    const { text: begun, weight } = unfinished(rest);
    setDraft(rest);
    change([...phrases, ...(cut < 0 ? [] : readPhrases(value.slice(0, cut))), ...(begun ? [{ text: begun, weight }] : [])]);
  };
  const key = (event: KeyboardEvent<HTMLInputElement>) => {
    const all = (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "a" && !draft && phrases.length > 0;
    if (all) event.preventDefault();
    setWhole(all);
    if (whole && (event.key === "Backspace" || event.key === "Delete")) {
      event.preventDefault();
      change([]);
    } else if (event.key === "Enter") take(draft);
    else if (event.key === "Escape") event.currentTarget.blur();
    else if (event.key === "Backspace" && !draft && phrases.length) {
      event.preventDefault();
      setDraft(writePhrase(phrases.at(-1)!));
      change(phrases.slice(0, -1));
    } else if (event.key === "ArrowLeft" && !draft) focus(phrases.length - 1);
  };
  /** Which place in the order a point on the screen means. */
  const placeOf = (x: number, y: number) => {
    const boxes = [...list.current!.querySelectorAll("li")].map((li) => li.getBoundingClientRect());
    const before = boxes.findIndex((box) => y < box.bottom && (x < box.left + box.width / 2 || y < box.top));
    return before < 0 ? phrases.length : before;
  };

  return (
    <div
      className={`flex min-h-7 min-w-0 flex-1 cursor-text flex-wrap items-center gap-1 rounded-md border border-rule px-1 py-px focus-within:border-amber ${rows === "one" ? "h-7 overflow-hidden" : "max-h-[40vh] overflow-y-auto"} ${whole ? "bg-glow" : "bg-sheet"}`}
      onClick={(event) => event.target === event.currentTarget && input.current?.focus()}
    >
      <ul ref={list} aria-label={`${label} as understood`} className="contents">
        {phrases.map((phrase, i) => (
          <Chip
            key={`${i} ${phrase.text}`}
            phrase={phrase}
            understood={understood?.find((u) => u.text === phrase.text)}
            onChange={(next) => change(phrases.map((p, k) => (k === i ? next : p)))}
            onText={(written) => change([...phrases.slice(0, i), ...readPhrases(written), ...phrases.slice(i + 1)])}
            onRemove={() => {
              change(phrases.filter((_, k) => k !== i));
              requestAnimationFrame(() => focus(i));
            }}
            onMove={(by) => {
              change(movedPhrase(phrases, i, i + by));
              requestAnimationFrame(() => focus(Math.min(Math.max(i + by, 0), phrases.length - 1)));
            }}
            onDrop={(x, y) => {
              const to = placeOf(x, y);
              change(movedPhrase(phrases, i, to > i ? to - 1 : to));
            }}
            onFocusBy={(by) => focus(i + by)}
          />
        ))}
      </ul>
      <input
        ref={input}
        id={id}
        value={draft}
        maxLength={2000}
        placeholder={phrases.length ? "" : hint}
        onChange={(event) => typed(event.target.value)}
        onKeyDown={key}
        onBlur={() => {
          setWhole(false);
          take(draft);
        }}
        className="h-6 min-w-[60px] flex-1 bg-transparent px-1.5 placeholder:text-faint focus-visible:!outline-none"
      />
    </div>
  );
}
