import { Plus, X } from "lucide-react";
import type { PlanView, SourceView } from "../../api/client";
import { sayFault } from "../../common/notices";
import { LOOSE } from "../../primitives/sceneNote";
import { withPhrases } from "../../primitives/phrases";
import { FULL, MOST_VERSIONS, useBands, withVersions, type Band } from "../../study/band";
import { Description } from "./Description";
import { PhraseField } from "./PhraseField";
import { PhraseSets } from "./PhraseSets";
import { SceneNote } from "./SceneNote";

interface Props {
  studyId: string;
  source: SourceView;
  band: Band;
  plan: PlanView | undefined;
  describing: boolean;
  onDescribing: (open: boolean) => void;
}

const HINT = "a place, light, weather, mood: mountain lake, dusk, mist^1.4";

/** What the take should be like and what it should not, and other versions of the prompt to run beside it. */
export function WordsRow({ studyId, source, band, plan, describing, onDescribing }: Props) {
  const change = useBands((s) => s.change);
  const { recipe } = band;
  const others = band.versions ?? [];
  const put = (field: "prompt" | "avoid", text: string) => change(studyId, (b) => ({ ...b, recipe: { ...b.recipe, [field]: text } }));
  const setVersions = (versions: string[]) => {
    const next = withVersions(band, versions);
    if (next) change(studyId, (b) => withVersions(b, versions) ?? b);
    else sayFault(FULL);
  };
  const span = band.spans.strength;
  const strength = span ? Math.max(span.from, span.to) : (recipe.strength ?? 0);
  const hold = Math.max(recipe.holds?.lines ?? 0, recipe.holds?.shapes ?? 0);
  const plain = (recipe.guidance ?? 1) <= 1 && Boolean(recipe.prompt || recipe.avoid);
  const words = { prompt: recipe.prompt ?? "", avoid: recipe.avoid ?? "" };
  const use = (next: typeof words) => change(studyId, (b) => ({ ...b, recipe: { ...b.recipe, ...next } }));
  return (
    <div className="mt-1.5">
      <div className="grid grid-cols-[1.6fr_auto_1fr] items-start gap-x-3">
        <PhraseField id="words-prompt" label={others.length ? "A" : "Prompt"} hint={HINT} text={words.prompt} understood={plan?.words} onText={(text) => put("prompt", text)} />
        <div className="flex items-center">
          <Description source={source} open={describing} onOpen={onDescribing} onAdd={(phrases) => put("prompt", withPhrases(words.prompt, phrases))} />
          <PhraseSets
            words={words}
            onUse={(set) => use({ prompt: set.prompt, avoid: set.avoid })}
            onAdd={(set) => use({ prompt: withPhrases(words.prompt, [set.prompt].filter(Boolean)), avoid: withPhrases(words.avoid, [set.avoid].filter(Boolean)) })}
          />
          <button
            type="button"
            aria-label="Another version of the prompt"
            title="Another version of the prompt, run beside this one"
            disabled={others.length + 1 >= MOST_VERSIONS}
            onClick={() => setVersions([...others, words.prompt])}
            className="flex h-7 items-center rounded px-1.5 text-faint hover:bg-glow hover:text-amber disabled:opacity-40"
          >
            <Plus size={16} />
          </button>
        </div>
        <PhraseField id="words-avoid" label="Avoid" hint="what it should have less of" text={words.avoid} understood={plan?.avoided} onText={(text) => put("avoid", text)} />
      </div>
      {others.map((text, i) => (
        <div key={i} className="mt-1 grid grid-cols-[1.6fr_auto_1fr] items-start gap-x-3">
          <PhraseField
            id={`words-prompt-${i + 2}`}
            label={String.fromCharCode(66 + i)}
            hint={HINT}
            text={text}
            understood={plan?.versions[i + 1]}
            onText={(next) => setVersions(others.map((t, k) => (k === i ? next : t)))}
          />
          <button type="button" aria-label={`Take version ${String.fromCharCode(66 + i)} away`} onClick={() => setVersions(others.filter((_, k) => k !== i))} className="flex h-7 items-center rounded px-1.5 text-faint hover:bg-glow hover:text-fault">
            <X size={16} />
          </button>
        </div>
      ))}
      {plan?.scene && !plain && (
        <SceneNote
          scene={plan.scene}
          strength={strength}
          hold={hold}
          source={source}
          aspect={plan.width / plan.height}
          placement={recipe.placement}
          onPlace={(placement) => change(studyId, (b) => ({ ...b, recipe: { ...b.recipe, placement } }))}
          onLoosen={() => change(studyId, (b) => ({ ...b, recipe: { ...b.recipe, holds: { ...b.recipe.holds, ...LOOSE } } }))}
        />
      )}
      {plain && <p className="text-xs text-fault">Guidance 1 leaves all words out; from 2 on they act, at 7 in full.</p>}
    </div>
  );
}
