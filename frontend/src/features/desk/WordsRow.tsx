import type { PhraseView, PlanView } from "../../api/client";
import { useBands, type Band } from "./band";

interface Props {
  studyId: string;
  band: Band;
  plan: PlanView | undefined;
}

/** What the take should be like and what it should not, and how each phrase was understood. */
export function WordsRow({ studyId, band, plan }: Props) {
  const change = useBands((s) => s.change);
  const { recipe } = band;
  const put = (field: "prompt" | "avoid") => (text: string) =>
    change(studyId, (b) => ({ ...b, recipe: { ...b.recipe, [field]: text } }));
  const plain = (recipe.guidance ?? 1) <= 1 && Boolean(recipe.prompt || recipe.avoid);
  return (
    <div className="mt-1.5 grid grid-cols-[1.6fr_1fr] items-start gap-x-6">
      <Words id="words-prompt" label="Prompt" hint="light, weather, palette, mood, texture: golden hour, mist^1.4" text={recipe.prompt ?? ""} phrases={plan?.words} onText={put("prompt")} />
      <Words id="words-avoid" label="Avoid" hint="what it should have less of" text={recipe.avoid ?? ""} phrases={plan?.avoided} onText={put("avoid")} />
      {plain && <p className="col-span-2 text-xs text-fault">Guidance 1 leaves all words out; from 2 on they act, at 7 in full.</p>}
    </div>
  );
}

interface WordsProps {
  id: string;
  label: string;
  hint: string;
  text: string;
  phrases: PhraseView[] | undefined;
  onText: (text: string) => void;
}

function Words({ id, label, hint, text, phrases, onText }: WordsProps) {
  return (
    <div className="flex min-w-0 items-center gap-2">
      <label htmlFor={id} className="w-[52px] shrink-0 font-semibold">{label}</label>
      <input
        id={id}
        value={text}
        maxLength={2000}
        placeholder={hint}
        onChange={(e) => onText(e.target.value)}
        onKeyDown={(e) => e.key === "Escape" && e.currentTarget.blur()}
        className="h-7 min-w-[120px] flex-1 rounded-md border border-rule bg-sheet px-2.5 placeholder:text-faint focus:border-amber focus:outline-none"
      />
      {text && phrases && phrases.length > 0 && (
        <ul aria-label={`${label} as understood`} className="flex max-h-7 max-w-[60%] min-w-0 flex-wrap gap-1 overflow-hidden">
          {phrases.map((phrase, i) => (
            <Understood key={`${i} ${phrase.text}`} phrase={phrase} />
          ))}
        </ul>
      )}
    </div>
  );
}

/** One phrase: what it means to the engine, or that it means nothing. */
function Understood({ phrase }: { phrase: PhraseView }) {
  const weight = phrase.weight === 1 ? "" : ` ${phrase.weight}`;
  const forgiven = phrase.corrected.map(([written, read]) => `${written} read as ${read}`);
  const missed = phrase.unknown.map((word) => `${word}: not understood, without effect`);
  return (
    <li title={[...forgiven, ...missed].join("; ") || `${phrase.text}: understood`} className="flex h-6 items-center gap-1 text-xs">
      {phrase.concepts.map((concept) => (
        <span key={concept} className="rounded bg-[#d9ebe8] px-1.5 py-0.5 whitespace-nowrap text-[#0d5a55]">{concept}{weight}</span>
      ))}
      {phrase.unknown.length > 0 && (
        <span className="rounded bg-[#f8e4e0] px-1.5 py-0.5 whitespace-nowrap text-fault">no effect: {phrase.unknown.join(" ")}</span>
      )}
      {!phrase.concepts.length && !phrase.unknown.length && (
        <span className="rounded bg-[#f8e4e0] px-1.5 py-0.5 whitespace-nowrap text-fault">no effect: {phrase.text}</span>
      )}
    </li>
  );
}
