import { memo, useEffect, useRef } from "react";
import { takePreview, takeThumb, type MarkValue, type MarkView, type TakeView } from "../../api/client";
import { useStable } from "../../common/useStable";
import type { Placed } from "../../primitives/arrange";
import { MarkDot } from "../../study/MarkDot";

/** Height of a picture of the strip. */
const HIGH = 40;

interface Props {
  cells: Placed<TakeView>[];
  picked: string;
  beside: string[];
  marks: Map<string, MarkView>;
  nameOf: (at: number[]) => string;
  onPick: (take: string, event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => void;
}

/** The finished takes of the sweep in a strip: a click takes one to the stage, Ctrl and a click lays it beside. */
export function Film({ cells, picked, beside, marks, nameOf, onPick }: Props) {
  const strip = useRef<HTMLElement>(null);
  const pickStable = useStable(onPick);
  useEffect(() => {
    strip.current?.querySelector("[aria-current=true]")?.scrollIntoView({ block: "nearest", inline: "nearest" });
  }, [picked]);
  return (
    <nav ref={strip} aria-label="Takes of this sweep" className="flex shrink-0 gap-2 overflow-x-auto border-t border-rule bg-paper px-3 pt-1 text-ink [scrollbar-width:thin]">
      {cells.map(({ take, at }) => (
        <Frame key={take.id + at.join()} take={take} name={nameOf(at)} on={take.id === picked} beside={beside.includes(take.id)} mark={marks.get(take.id)?.value} onPick={pickStable} />
      ))}
    </nav>
  );
}

interface FrameProps {
  take: TakeView;
  name: string;
  on: boolean;
  beside: boolean;
  mark: MarkValue | null | undefined;
  onPick: Props["onPick"];
}

/** One take of the strip; drawn anew only when something of its own changes. */
const Frame = memo(function Frame({ take, name, on, beside, mark, onPick }: FrameProps) {
  return (
    <button
      type="button"
      aria-current={on}
      aria-pressed={beside}
      onClick={(event) => onPick(take.id, event)}
      className={`shrink-0 rounded-sm text-xs ${on ? "outline-2 outline-offset-1 outline-amber" : beside ? "outline-2 outline-offset-1 outline-lamp" : ""}`}
    >
      <img loading="lazy" src={take.thumb ? takeThumb(take.thumb) : takePreview(take.id)} alt="" width={Math.round((HIGH * take.width) / take.height)} height={HIGH} className="block" style={{ height: HIGH }} draggable={false} />
      <span className="flex max-w-32 items-center justify-center gap-1">
        <span className="truncate">{name}</span>
        <MarkDot value={mark} />
      </span>
    </button>
  );
});
