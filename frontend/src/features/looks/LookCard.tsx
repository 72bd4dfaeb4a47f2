import { Check, Star } from "lucide-react";
import type { LookView } from "../../api/client";

interface Props {
  look: LookView;
  preview: string | null | undefined;
  /** Height of the picture, in pixels. */
  height: number;
  chosen: boolean;
  also: boolean;
  ticked: boolean;
  starred: boolean;
  onTake: () => void;
  onTick: () => void;
  onStar: () => void;
  onPoint: (card: HTMLElement | null, at: "hand" | "key") => void;
}

const CORNER = "absolute rounded bg-sheet/90 p-0.5";
const ON_HAND = "opacity-0 group-hover:opacity-100 focus-visible:opacity-100";

/** A look on this very picture: a click takes it, a star keeps it near, a tick makes it one of a sweep. */
export function LookCard({ look, preview, height, chosen, also, ticked, starred, onTake, onTick, onStar, onPoint }: Props) {
  return (
    <div className="group relative" onPointerEnter={(event) => onPoint(event.currentTarget, "hand")} onPointerLeave={() => onPoint(null, "hand")}>
      <button
        type="button"
        data-look={look.name}
        aria-pressed={chosen}
        aria-label={`${look.title}${chosen ? ", chosen" : also ? ", the other look" : ""}`}
        onClick={onTake}
        onFocus={(event) => event.currentTarget.matches(":focus-visible") && onPoint(event.currentTarget, "key")}
        onBlur={() => onPoint(null, "key")}
        className={`block w-full overflow-hidden rounded-md border-2 text-left ${chosen ? "border-amber" : also ? "border-teal" : "border-transparent hover:border-faint"}`}
      >
        <span className="flex items-center justify-center overflow-hidden bg-mid" style={{ height }}>
          {preview ? <img src={preview} alt="" draggable={false} className="h-full w-full object-cover" /> : <span className="text-xs text-white/80">{preview === null ? "no preview" : "…"}</span>}
        </span>
        <span className="flex items-baseline justify-between gap-1 bg-sheet px-1.5 text-[13px] leading-5">
          <span className="truncate font-semibold">{look.title}</span>
          <span className="shrink-0 text-xs text-faint">{look.category === "learned" ? "your own" : look.category}</span>
        </span>
      </button>
      <button type="button" aria-label={`${starred ? "Take" : "Put"} ${look.title} ${starred ? "from" : "among"} the favourites`} aria-pressed={starred} onClick={onStar} className={`${CORNER} top-1.5 right-1.5 ${starred ? "text-amber" : `text-faint ${ON_HAND}`}`}>
        <Star size={15} fill={starred ? "currentColor" : "none"} />
      </button>
      <button type="button" role="checkbox" aria-checked={ticked} aria-label={`Tick ${look.title}`} title="Tick several: they become an axis of the sweep (space bar)" onClick={onTick} className={`${CORNER} top-1.5 left-1.5 ${ticked ? "!bg-ember text-white" : `text-faint ${ON_HAND}`}`}>
        <Check size={15} />
      </button>
    </div>
  );
}
