import { CircleHelp } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import type { Recipe, SourceView } from "../../api/client";
import { changedBy } from "../../study/controls";
import { useShots } from "../live/useShots";
import { EXPLAINED } from "./words";

interface Props {
  control: string;
  label: string;
  source: SourceView;
  recipe: Recipe;
  onTake: (value: number | string) => void;
  /** Values as they are called. */
  titleOf?: (value: number | string) => string;
}

/** What a control does, shown on the artist's own picture: small drafts, all else as it is. */
export function Explain({ control, label, source, recipe, onTake, titleOf = String }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger aria-label={`What ${label.toLowerCase()} does`} title={`What ${label.toLowerCase()} does, on this picture`} className="rounded p-0.5 text-faint hover:bg-glow hover:text-amber">
        <CircleHelp size={14} />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="start" sideOffset={6} aria-label={`What ${label.toLowerCase()} does`} className="z-40 rounded-lg border border-rule bg-sheet p-3 shadow-xl focus-visible:!outline-none">
          <p className="m-0 mb-2 max-w-[640px] text-[13px]">{EXPLAINED[control]!.words}</p>
          {open && (
            <Row
              control={control}
              titleOf={titleOf}
              source={source}
              recipe={recipe}
              onTake={(value) => {
                onTake(value);
                setOpen(false);
              }}
            />
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Row({ control, source, recipe, onTake, titleOf = String }: Omit<Props, "label">) {
  const { values } = EXPLAINED[control]!;
  const shots = useShots(source.id, values.map((value) => changedBy(recipe, control, value)));
  const width = 128;
  const height = Math.min(Math.round((width * source.framed_height) / source.framed_width), 150);
  return (
    <div className="flex gap-2">
      {values.map((value, i) => (
        <button key={value} type="button" title="Set it to this" onClick={() => onTake(value)} className="rounded border-2 border-transparent text-center hover:border-amber">
          <span className="flex items-center justify-center bg-mid" style={{ width, height }}>
            {shots[i] && <img src={shots[i]} alt={`${control} ${value}`} draggable={false} className="max-h-full max-w-full" style={{ height }} />}
          </span>
          <span className="text-[13px] font-semibold tabular-nums">{titleOf(value)}</span>
        </button>
      ))}
    </div>
  );
}
