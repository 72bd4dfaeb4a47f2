import { X } from "lucide-react";
import type { LookView } from "../../api/client";
import { Gauge } from "../../ui/Gauge";

interface Props {
  looks: LookView[];
  look: string;
  second: string | null;
  share: number;
  slot: "first" | "second";
  onSlot: (slot: "first" | "second") => void;
  onSecond: (name: string | null) => void;
  onShare: (share: number) => void;
}

/** Which of two looks the next click chooses, and how much of the second there is. */
export function SecondLook({ looks, look, second, share, slot, onSlot, onSecond, onShare }: Props) {
  const titleOf = (name: string | null) => looks.find((l) => l.name === name)?.title ?? "";
  const tab = (on: boolean, tone: string) => `h-7 min-w-0 flex-1 truncate rounded px-2 text-left font-semibold ${on ? `bg-sheet ${tone}` : "text-faint hover:bg-sheet/60"}`;
  return (
    <div className="flex items-center gap-3">
      <div role="radiogroup" aria-label="Which look is chosen" className="flex w-[330px] gap-1 rounded-md bg-rule/60 p-0.5">
        <button type="button" role="radio" aria-checked={slot === "first"} onClick={() => onSlot("first")} className={tab(slot === "first", "text-amber")}>
          {titleOf(look) || "Look"}
        </button>
        <button type="button" role="radio" aria-checked={slot === "second"} title="The next click chooses a look that is mixed in" onClick={() => onSlot("second")} className={tab(slot === "second", "text-teal")}>
          {second ? `with ${titleOf(second).toLowerCase()}` : "with a second look"}
        </button>
        {second && (
          <button
            type="button"
            aria-label="Take the second look away"
            onClick={() => {
              onSecond(null);
              onSlot("first");
            }}
            className="rounded px-1 text-faint hover:text-fault"
          >
            <X size={15} />
          </button>
        )}
      </div>
      {second && (
        <div className="-my-1 w-[210px]">
          <Gauge id="second-share" label="Share of the second look" value={share} span={null} min={0} max={1} step={0.05} digits={2} ends={[titleOf(look).toLowerCase(), titleOf(second).toLowerCase()]} onValue={onShare} />
        </div>
      )}
      {slot === "second" && !second && <p className="m-0 text-[13px] text-faint">Choose the look to mix in.</p>}
    </div>
  );
}
