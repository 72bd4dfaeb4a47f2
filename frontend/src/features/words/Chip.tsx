import { Check, CircleDashed, CircleSlash } from "lucide-react";
import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { PhraseView } from "../../api/client";
import { clampWeight, type Phrase } from "../../primitives/phrases";

export interface ChipActs {
  onChange: (phrase: Phrase) => void;
  onText: (text: string) => void;
  onRemove: () => void;
  /** Steps to the left or right in the order. */
  onMove: (by: number) => void;
  /** Dropped at a place on the screen. */
  onDrop: (x: number, y: number) => void;
  onFocusBy: (by: number) => void;
}

interface Props extends ChipActs {
  phrase: Phrase;
  understood: PhraseView | undefined;
}

const STEP = 0.1;
const PER_PIXEL = 0.01;
const DRAG_BEGINS = 6;

/** How far a phrase is understood, told by a mark as well as by colour. */
function grasp(understood: PhraseView | undefined): "all" | "part" | "none" | "asked" {
  if (!understood) return "asked";
  if (!(understood.concepts.length || understood.scene.length || understood.look) || !understood.found) return "none";
  if (understood.unheard) return "part";
  return understood.unknown.length && understood.place !== "where the picture has it" ? "part" : "all";
}

const FACE = {
  asked: { box: "border-rule bg-sheet", mark: null, words: "" },
  all: { box: "border-teal/40 bg-shoal", mark: <Check size={11} className="text-teal" aria-hidden />, words: "understood" },
  part: { box: "border-lamp bg-glow", mark: <CircleDashed size={11} className="text-amber" aria-hidden />, words: "understood in part" },
  none: { box: "border-dashed border-fault/50 bg-blush", mark: <CircleSlash size={11} className="text-fault" aria-hidden />, words: "no effect" },
};

/** One phrase: its words, what the engine makes of them, its weight. */
export function Chip({ phrase, understood, onChange, onText, onRemove, onMove, onDrop, onFocusBy }: Props) {
  const [editing, setEditing] = useState(false);
  const weighing = useRef<{ x: number; weight: number } | null>(null);
  const carried = useRef<{ x: number; y: number; far: boolean } | null>(null);
  const [lifted, setLifted] = useState(false);
  const state = grasp(understood);
  const face = FACE[state];
  const put = (weight: number) => onChange({ ...phrase, weight: clampWeight(weight) });

  const key = (event: KeyboardEvent) => {
    const acts: Record<string, () => void> = {
      ArrowUp: () => put(phrase.weight + (event.shiftKey ? STEP / 2 : STEP)),
      ArrowDown: () => put(phrase.weight - (event.shiftKey ? STEP / 2 : STEP)),
      ArrowLeft: () => (event.altKey ? onMove(-1) : onFocusBy(-1)),
      ArrowRight: () => (event.altKey ? onMove(1) : onFocusBy(1)),
      Delete: onRemove,
      Backspace: onRemove,
      Enter: () => setEditing(true),
      F2: () => setEditing(true),
    };
    const act = acts[event.key];
    if (!act || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  };
  const weigh = (event: PointerEvent) => {
    if (weighing.current) put(weighing.current.weight + (event.clientX - weighing.current.x) * PER_PIXEL);
  };
  const carry = (event: PointerEvent) => {
    const from = carried.current;
    if (!from) return;
    from.far ||= Math.hypot(event.clientX - from.x, event.clientY - from.y) > DRAG_BEGINS;
    setLifted(from.far);
  };
  const letGo = (event: PointerEvent) => {
    if (carried.current?.far) onDrop(event.clientX, event.clientY);
    carried.current = null;
    setLifted(false);
  };

  if (editing) {
    return (
      <li className="flex h-6 items-center">
        <input
          autoFocus
          aria-label={`Edit ${phrase.text}`}
          defaultValue={phrase.weight === 1 ? phrase.text : `${phrase.text}^${phrase.weight}`}
          size={Math.max(phrase.text.length + 4, 8)}
          onBlur={(event) => {
            setEditing(false);
            onText(event.target.value);
          }}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === "Enter") event.currentTarget.blur();
            if (event.key === "Escape") setEditing(false);
          }}
          className="h-6 rounded border border-amber bg-sheet px-1.5 outline-none"
        />
      </li>
    );
  }
  const concepts = understood?.concepts.filter((c) => c.toLowerCase() !== phrase.text.toLowerCase()) ?? [];
  const where = understood?.place ? (understood.found ? understood.place : `${understood.place}: this picture has none`) : "";
  const unheard = understood?.unheard ?? understood?.unknown.join(" ");
  const missed = state === "part" ? `no effect: ${unheard}` : state === "none" && understood!.found ? `no effect${understood!.unheard ? `: ${unheard}` : ""}` : "";
  // What a phrase asks of the scene says more than the light it would have had without one.
  const scene = understood?.scene.filter((s) => s.toLowerCase() !== phrase.text.toLowerCase()) ?? [];
  const asked = understood?.scene.length ? scene.join(" + ") : [concepts.join(" + "), where].filter(Boolean).join(" ");
  const said = [understood?.look, asked].filter(Boolean).join(" + ");
  const forgiven = understood?.corrected.map(([written, read]) => `${written} read as ${read}`).join("; ");
  return (
    <li
      className={`flex h-6 shrink-0 items-center gap-1 rounded-md border pl-1.5 text-[13px] whitespace-nowrap ${face.box} ${lifted ? "opacity-60 shadow-md" : ""}`}
      title={forgiven || undefined}
    >
      {face.mark}
      <button
        type="button"
        data-phrase
        aria-label={`${phrase.text}, weight ${phrase.weight.toFixed(2)}${face.words ? `, ${face.words}` : ""}`}
        title="Drag to reorder; double click or Enter to edit; arrows up and down weigh it; Delete removes it"
        onKeyDown={key}
        onDoubleClick={() => setEditing(true)}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          carried.current = { x: event.clientX, y: event.clientY, far: false };
        }}
        onPointerMove={carry}
        onPointerUp={letGo}
        onPointerCancel={letGo}
        className="max-w-[220px] cursor-grab touch-none truncate rounded-sm outline-offset-1"
      >
        {phrase.text}
      </button>
      {said && <span className={`max-w-[190px] truncate text-xs ${understood?.found === false ? "text-fault" : "text-teal"}`}>= {said}</span>}
      {missed && <span className="text-xs text-fault">{missed}</span>}
      {understood?.suggestions[0] && (
        <button type="button" className="rounded px-0.5 text-xs text-amber underline decoration-dotted" title={`Meant one of these? ${understood.suggestions.join(", ")}`} onClick={() => onText(understood.suggestions[0]!)}>
          {understood.suggestions[0]}?
        </button>
      )}
      <span
        data-weight
        title="Drag or turn the wheel to weigh it, .1 to 2"
        className={`cursor-ew-resize touch-none border-l border-black/10 px-1 text-xs tabular-nums select-none ${phrase.weight === 1 ? "text-faint" : "font-semibold text-amber"}`}
        onWheel={(event) => put(phrase.weight + (event.deltaY < 0 ? STEP : -STEP))}
        onDoubleClick={() => put(1)}
        onPointerDown={(event) => {
          event.preventDefault();
          event.currentTarget.setPointerCapture(event.pointerId);
          weighing.current = { x: event.clientX, weight: phrase.weight };
        }}
        onPointerMove={weigh}
        onPointerUp={() => (weighing.current = null)}
        onPointerCancel={() => (weighing.current = null)}
      >
        {phrase.weight.toFixed(2).replace(/0$/, "")}
      </span>
    </li>
  );
}
