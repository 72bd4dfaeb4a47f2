import { ClipboardCopy, Columns2, Copy, CornerDownRight, Download, Expand, GitFork } from "lucide-react";
import { useState } from "react";
import { takeSave, type Choices, type MarkValue, type MarkView, type Readings, type Recipe, type SourceView, type TakeView } from "../../api/client";
import { fileOf } from "../../api/finish";
import { sayFault, useNotices } from "../../common/notices";
import { engineNamed, hears, lookTitle, offeredBy, tagOf, type EngineView } from "../../primitives/engines";
import { sentences } from "../../primitives/reading";
import { writeSettings } from "../../primitives/settings";
import { duration } from "../../primitives/words";
import { Button, KeyCap } from "../../ui/Button";
import { MarkDot } from "../../study/MarkDot";
import { MARKS } from "../../study/marks";
import { Nearest } from "./Nearest";
import { TryMenu } from "./TryMenu";
import type { FromTake } from "../../study/fromTake";

interface Props {
  take: TakeView;
  source: SourceView;
  mark: MarkView | undefined;
  choices: Choices;
  onMark: (value: MarkValue | null, note: string) => void;
  onOpen?: () => void;
  onCopy: () => void;
  onCarryOn: () => void;
  onFinish: () => void;
  onLineage: () => void;
  /** What can be tried from this take. */
  tries?: FromTake[];
  onTry?: (item: FromTake) => void;
  tryOpen?: boolean;
  onTryOpen?: (open: boolean) => void;
  /** Every take of the study, to find those that one control makes different. */
  others?: TakeView[];
  onGo?: (id: string) => void;
  /** In which its recipe differs from the one it is compared with. */
  differs?: string[];
}

/** Everything about one take: judgement, readings, its whole recipe. */
export function TakePanel({ take, source, mark, choices, onMark, onOpen, onCopy, onCarryOn, onFinish, onLineage, tries, onTry, tryOpen = false, onTryOpen, others, onGo, differs = [] }: Props) {
  const done = take.state === "done";
  const { recipe } = take;
  const maker = engineNamed(choices, recipe.engine);
  const offered = offeredBy(choices, recipe.engine);
  const differ = (...names: string[]) => names.some((name) => differs.includes(name));
  return (
    <>
      <h2 className="text-[15px] leading-5 font-semibold">
        {lookTitle(choices, recipe)}, strength {(recipe.strength ?? 0).toFixed(2)}
        <span className="block text-[13px] font-normal text-faint">guidance {recipe.guidance}, seed {recipe.seed}</span>
      </h2>
      <div role="group" aria-label="Mark" className="grid grid-cols-3 gap-1.5">
        {MARKS.map(({ value, title, key }) => {
          const on = mark?.value === value;
          return (
            <button
              key={value}
              type="button"
              aria-pressed={on}
              disabled={!done}
              title={`${title} (${key})`}
              onClick={() => onMark(on ? null : value, mark?.note ?? "")}
              className={`flex h-8 items-center justify-center gap-1.5 rounded-md border font-semibold disabled:text-faint ${on ? "border-amber bg-glow" : "border-rule bg-sheet hover:border-faint"}`}
            >
              <MarkDot value={value} decorative />
              {title}
            </button>
          );
        })}
      </div>
      {take.readings && <ReadingBars readings={take.readings} kinds={choices.readings} />}
      {done && !maker && <p className="text-[13px] leading-snug text-faint">Made by the engine {take.engine}, which is not here any more. This one stays.</p>}
      {done && maker && take.engine !== tagOf(maker) && <p className="text-[13px] leading-snug text-faint">Made by engine {take.engine}; this is {tagOf(maker)}, which gives another picture. This one stays; try it anew beside it (T).</p>}
      {take.fault && <p role="alert" className="rounded bg-blush px-2 py-1 text-fault">{take.fault}</p>}
      <div className="flex flex-col gap-1.5">
        {onOpen && (
          <Button disabled={!done} onClick={onOpen} spread>
            <span className="flex items-center gap-1.5"><Columns2 size={15} /> On the bench</span>
            <KeyCap>Enter</KeyCap>
          </Button>
        )}
        <a
          href={done ? takeSave(take.id) : undefined}
          aria-disabled={!done}
          download
          draggable={done}
          onDragStart={(event) => event.dataTransfer.setData("DownloadURL", dragged(take))}
          className="inline-flex h-8 items-center justify-between rounded-md border border-rule bg-sheet px-3 font-semibold hover:border-faint aria-disabled:text-faint"
        >
          <span className="flex items-center gap-1.5"><Download size={15} /> Save as PNG</span>
          <KeyCap>S</KeyCap>
        </a>
        <Button disabled={!done} onClick={onFinish} spread title="Larger, traced to curves, as a file in any format">
          <span className="flex items-center gap-1.5"><Expand size={15} /> Larger, traced, files</span>
          <KeyCap>Shift S</KeyCap>
        </Button>
        <Button disabled={!done} onClick={onCarryOn} spread title="This take becomes the next source; the one before stays">
          <span className="flex items-center gap-1.5"><CornerDownRight size={15} /> Carry on from it</span>
          <KeyCap>N</KeyCap>
        </Button>
        <Button disabled={!done} onClick={onLineage} spread title="The steps that led to this take, and what else came of them">
          <span className="flex items-center gap-1.5"><GitFork size={15} /> How it came about</span>
          <KeyCap>Shift L</KeyCap>
        </Button>
        {tries && onTry && onTryOpen && <TryMenu items={tries} open={tryOpen} disabled={!done} onOpen={onTryOpen} onTry={onTry} />}
        <Button onClick={onCopy} spread title="Puts this take's look, controls and holds into the band">
          <span className="flex items-center gap-1.5"><Copy size={15} /> Settings to the band</span>
          <KeyCap>C</KeyCap>
        </Button>
        <Button spread title="As JSON: pasted on a desk it goes into the band" onClick={() => void copyText(writeSettings(recipe))}>
          <span className="flex items-center gap-1.5"><ClipboardCopy size={15} /> Settings as text</span>
        </Button>
      </div>
      {others && onGo && <Nearest take={take} others={others} kinds={choices.readings} onGo={onGo} />}
      <Note key={take.id} note={mark?.note ?? ""} onNote={(note) => onMark(mark?.value ?? null, note)} />
      <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-0.5 text-[13px]">
        <Fact name="Look" on={differ("look", "look_weight")} value={`${lookTitle(choices, recipe)}${hears(maker, "look_weight") ? `, weight ${(recipe.look_weight ?? 1).toFixed(2)}` : ""}`} />
        {recipe.second_look && (recipe.second_share ?? 0) > 0 && (
          <Fact name="With" on={differ("second_look", "second_share")} value={`${choices.looks.find((l) => l.name === recipe.second_look)?.title ?? recipe.second_look}, share ${(recipe.second_share ?? 0).toFixed(2)}`} />
        )}
        {recipe.prompt && <Fact name="Prompt" on={differ("prompt")} value={recipe.prompt} />}
        {recipe.avoid && <Fact name="Avoid" on={differ("avoid")} value={recipe.avoid} />}
        <Fact name="Strength" on={differ("strength")} value={(recipe.strength ?? 0).toFixed(2)} />
        {hears(maker, "guidance") && <Fact name="Guidance" on={differ("guidance")} value={String(recipe.guidance)} />}
        <Fact name="Seed" on={differ("seed")} value={String(recipe.seed)} />
        <Fact name="Steps" on={differ("steps")} value={`${take.steps} of ${recipe.steps} run`} />
        {offered.samplers.length > 0 && <Fact name="Sampler" on={differ("sampler")} value={offered.samplers.find((s) => s.name === recipe.sampler)?.title ?? ""} />}
        <Fact name="Holds" on={differ("lines", "shapes", "colours", "faces", "subject", "depth")} value={heldWords(recipe, maker)} />
        <Fact name="Size" on={differ("size", "quality")} value={`${take.width} \u00d7 ${take.height}`} />
        <Fact name="Source" value={source.name} />
        {take.seconds !== null && <Fact name="Took" value={take.seconds < 10 ? `${take.seconds.toFixed(2)} s` : duration(take.seconds)} />}
      </dl>
    </>
  );
}

/** The holds that the take's engine has, each with how firmly it held. */
function heldWords(recipe: Recipe, maker: EngineView | undefined): string {
  const held = (["lines", "shapes", "colours", "faces", "subject", "depth"] as const).filter((hold) => hears(maker, hold) && (hold !== "depth" || recipe.holds?.depth));
  return held.map((hold) => `${hold} ${(recipe.holds?.[hold] ?? 0).toFixed(2)}`).join(", ") || "none";
}

/** A line of the recipe; `on` marks what differs from the recipe beside it. */
function Fact({ name, value, on = false }: { name: string; value: string; on?: boolean }) {
  return (
    <>
      <dt className={on ? "font-semibold text-amber" : "text-faint"}>{name}</dt>
      <dd className={`m-0 min-w-0 break-words ${on ? "-mx-1 rounded bg-glow px-1 font-semibold" : ""}`} data-differs={on || undefined}>{value}</dd>
    </>
  );
}

function ReadingBars({ readings, kinds }: { readings: Readings; kinds: Choices["readings"] }) {
  return (
    <div className="flex flex-col gap-1.5">
      {kinds.map(({ name, title, says }) => {
        const value = readings.figures[name];
        return typeof value === "number" && <ReadingBar key={name} name={title} says={says} value={value} />;
      })}
      {sentences(readings).map((sentence) => (
        <p key={sentence} className="text-[13px] leading-snug text-faint">{sentence}</p>
      ))}
    </div>
  );
}

function ReadingBar({ name, says, value }: { name: string; says: string; value: number }) {
  return (
    <div title={says}>
      <div className="flex justify-between text-[13px]">
        <span>{name}</span>
        <span className="font-semibold">{Math.round(value)}</span>
      </div>
      <div className="h-1 rounded-full bg-rule">
        <div className="h-1 rounded-full bg-teal" style={{ width: `${value}%` }} />
      </div>
    </div>
  );
}

function Note({ note, onNote }: { note: string; onNote: (note: string) => void }) {
  const [draft, setDraft] = useState(note);
  return (
    <textarea
      aria-label="Note"
      placeholder="A note on this take"
      rows={2}
      maxLength={2000}
      value={draft}
      onChange={(event) => setDraft(event.target.value)}
      onBlur={() => draft !== note && onNote(draft)}
      className="shrink-0 resize-none rounded-md border border-rule bg-sheet px-2 py-1 placeholder:text-faint focus:border-amber focus:outline-none"
    />
  );
}

/** What a drag out of the window leaves on the desktop: type, name and address of the file. */
function dragged(take: TakeView): string {
  return `image/png:${take.recipe.look}-${take.recipe.seed}.png:${window.location.origin}${fileOf({ kind: "take", id: take.id })}`;
}

async function copyText(text: string) {
  try {
    await navigator.clipboard.writeText(text);
    useNotices.getState().say("The settings are copied as text.");
  } catch {
    sayFault("The browser does not let the text be copied; save the take instead, its settings are inside.");
  }
}
