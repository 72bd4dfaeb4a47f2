import { Plus, X } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { PlanView, SourceView } from "../../api/client";
import { useTakesFocus } from "../../common/focus";
import { sayFault } from "../../common/notices";
import { readPhrases, withPhrases } from "../../primitives/phrases";
import { LOOSE, sceneNote } from "../../primitives/sceneNote";
import { counted } from "../../primitives/words";
import { FULL, MOST_VERSIONS, useBands, withVersions, type Band } from "../../study/band";
import { useDeskView } from "../../study/view";
import { Description } from "./Description";
import { PhraseField } from "./PhraseField";
import { PhraseSets } from "./PhraseSets";
import { SceneNote } from "./SceneNote";

interface Props {
  studyId: string;
  source: SourceView;
  band: Band;
  plan: PlanView | undefined;
}

const HINT = "place, light, weather: mountain lake, dusk, mist^1.4";
const letter = (index: number) => String.fromCharCode(65 + index);

/** What the take should be like: one row at rest; while it is edited it grows over the pictures, with its other versions. */
export function Words({ studyId, source, band, plan }: Props) {
  const change = useBands((s) => s.change);
  const { describing, show } = useDeskView();
  const { recipe } = band;
  const others = band.versions ?? [];
  const area = useRef<HTMLDivElement>(null);
  const [open, setOpen] = useOpenWhileUsed(area);
  useTakesFocus("prompt", () => area.current!.querySelector<HTMLElement>("#words-prompt"));

  const put = (prompt: string) => change(studyId, (b) => ({ ...b, recipe: { ...b.recipe, prompt } }));
  const setVersions = (versions: string[]) => {
    if (withVersions(band, versions)) change(studyId, (b) => withVersions(b, versions) ?? b);
    else sayFault(FULL);
  };
  const words = { prompt: recipe.prompt ?? "", avoid: recipe.avoid ?? "" };
  const use = (next: typeof words) => change(studyId, (b) => ({ ...b, recipe: { ...b.recipe, ...next } }));
  const scene = sceneOf(band, plan);
  return (
    <div className="min-w-0">
      <div className="flex h-5 items-center">
        <label htmlFor="words-prompt" className="font-semibold">Prompt</label>
        <span className="ml-auto flex items-center">
          <Description source={source} open={describing} onOpen={(now) => show({ describing: now })} onAdd={(phrases) => put(withPhrases(words.prompt, phrases))} />
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
            onClick={() => {
              setVersions([...others, words.prompt]);
              setOpen(true);
            }}
            className="flex h-6 items-center rounded px-1 text-faint hover:bg-glow hover:text-amber disabled:opacity-40"
          >
            <Plus size={16} />
          </button>
        </span>
      </div>
      <div className="relative h-7">
        <div ref={area} data-open={open || undefined} className={open ? "absolute top-0 left-0 z-30 w-[max(100%,620px)] rounded-lg bg-paper shadow-xl ring-1 ring-rule" : "absolute inset-0"} onFocus={() => setOpen(true)}>
          <PhraseField id="words-prompt" label={others.length ? letter(0) : "Prompt"} rows={open ? "all" : "one"} hint={HINT} text={words.prompt} understood={plan?.words} onText={put} />
          {open && others.map((text, i) => (
            <div key={i} className="mt-1 flex items-start gap-1 pl-1">
              <label htmlFor={`words-prompt-${i + 2}`} className="w-4 shrink-0 pt-1 font-semibold">{letter(i + 1)}</label>
              <PhraseField id={`words-prompt-${i + 2}`} label={letter(i + 1)} hint={HINT} text={text} understood={plan?.versions[i + 1]} onText={(next) => setVersions(others.map((t, k) => (k === i ? next : t)))} />
              <button type="button" aria-label={`Take version ${letter(i + 1)} away`} onClick={() => setVersions(others.filter((_, k) => k !== i))} className="flex h-7 items-center rounded px-1.5 text-faint hover:bg-glow hover:text-fault">
                <X size={16} />
              </button>
            </div>
          ))}
          {open && scene && (
            <SceneNote
              {...scene}
              source={source}
              onPlace={(placement) => change(studyId, (b) => ({ ...b, recipe: { ...b.recipe, placement } }))}
              onLoosen={() => change(studyId, (b) => ({ ...b, recipe: { ...b.recipe, holds: { ...b.recipe.holds, ...LOOSE } } }))}
            />
          )}
        </div>
      </div>
      <AtRest band={band} scene={scene} />
    </div>
  );
}

/** Guidance of 1 leaves all words out. */
const isPlain = ({ recipe }: Band) => (recipe.guidance ?? 1) <= 1 && Boolean(recipe.prompt || recipe.avoid);

/** The scene that the prompt names, and what it meets in this band; null where there is none or words are left out. */
function sceneOf(band: Band, plan: PlanView | undefined) {
  if (!plan?.scene || isPlain(band)) return null;
  const { recipe } = band;
  const span = band.spans.strength;
  return {
    scene: plan.scene,
    strength: span ? Math.max(span.from, span.to) : (recipe.strength ?? 0),
    hold: Math.max(recipe.holds?.lines ?? 0, recipe.holds?.shapes ?? 0),
    aspect: plan.width / plan.height,
    placement: recipe.placement,
  };
}

/** Under the row: how many phrases and versions there are, and what of them matters most. */
function AtRest({ band, scene }: { band: Band; scene: ReturnType<typeof sceneOf> }) {
  const phrases = readPhrases(band.recipe.prompt ?? "").length;
  const versions = band.versions?.length ?? 0;
  const count = [phrases ? counted(phrases, "phrase") : "", versions ? counted(versions + 1, "version") : ""].filter(Boolean).join(", ");
  if (isPlain(band)) return <p className="h-3.5 truncate text-xs leading-[14px] text-fault">Guidance 1 leaves all words out; from 2 on they act, at 7 in full.</p>;
  const conflict = scene?.scene.conflicts[0];
  return (
    <p className={`h-3.5 truncate text-xs leading-[14px] ${conflict ? "text-fault" : "text-faint"}`}>
      {count}
      {scene && `${count ? " \u00b7 " : ""}${conflict ?? sceneNote(scene.scene, scene.strength, scene.hold)}`}
    </p>
  );
}

/** Open from the first focus until a press elsewhere or Escape; what its menus show counts as inside. */
function useOpenWhileUsed(area: React.RefObject<HTMLElement | null>): [boolean, (open: boolean) => void] {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    if (!open) return;
    const inside = (target: EventTarget | null) => target instanceof Element && (area.current?.contains(target) || target.closest("[data-radix-popper-content-wrapper]"));
    const press = (event: Event) => !inside(event.target) && setOpen(false);
    const key = (event: KeyboardEvent) => {
      if (event.key === "Escape" && !event.defaultPrevented) setOpen(false);
    };
    const left = (event: FocusEvent) => event.relatedTarget && !inside(event.relatedTarget) && setOpen(false);
    window.addEventListener("pointerdown", press, true);
    window.addEventListener("keydown", key);
    window.addEventListener("focusout", left);
    return () => {
      window.removeEventListener("pointerdown", press, true);
      window.removeEventListener("keydown", key);
      window.removeEventListener("focusout", left);
    };
  }, [open, area]);
  return [open, setOpen];
}
