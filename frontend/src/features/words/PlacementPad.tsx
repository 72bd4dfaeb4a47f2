import { Popover } from "radix-ui";
import { useRef, type KeyboardEvent, type PointerEvent, type WheelEvent } from "react";
import { sourceImage, type SourceView } from "../../api/client";
import { asItIs, behindBox, movedBy, rectangle, sizedTo, type Box, type Placement } from "../../primitives/placement";
import { NumberField } from "../../ui/NumberField";
import { Picker } from "../../ui/Picker";

interface Props {
  source: SourceView;
  box: Box;
  /** Width over height of the picture. */
  aspect: number;
  placement: Placement | null;
  onPlace: (placement: Placement | null) => void;
}

const STANCES = [
  { value: "auto", title: "As the place has it", detail: "on its ground, in the open or on its wall" },
  { value: "stands", title: "Stands", detail: "on the ground, with its shadow" },
  { value: "floats", title: "Floats", detail: "in the open, without one" },
  { value: "hangs", title: "Hangs", detail: "on a wall, a soft shadow behind" },
];
const WIDE = 264;
const KEY_STEP = 0.01;
const PERCENT = 100;

/** Where a cut-out stands before its scene: drag it, its corner makes it larger, arrows and plus and minus do the same. */
export function PlacementPad({ source, box, aspect, placement, onPlace }: Props) {
  const shown = placement ?? asItIs(box);
  const height = WIDE / aspect;
  const held = useRef<{ x: number; y: number; from: Placement; sizing: boolean } | null>(null);
  const { left, top, width, height: tall } = rectangle(shown, box, aspect);
  const laid = behindBox(box);

  const take = (event: PointerEvent, sizing: boolean) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    event.stopPropagation();
    held.current = { x: event.clientX, y: event.clientY, from: shown, sizing };
  };
  const carry = (event: PointerEvent) => {
    const begun = held.current;
    if (!begun) return;
    event.stopPropagation();
    const dx = (event.clientX - begun.x) / WIDE;
    const dy = (event.clientY - begun.y) / height;
    onPlace(begun.sizing ? sizedTo(begun.from, begun.from.tall - dy) : movedBy(begun.from, dx, dy));
  };
  const drop = () => {
    held.current = null;
  };
  const key = (event: KeyboardEvent) => {
    const step = event.shiftKey ? KEY_STEP * 5 : KEY_STEP;
    const acts: Record<string, () => Placement> = {
      ArrowLeft: () => movedBy(shown, -step, 0),
      ArrowRight: () => movedBy(shown, step, 0),
      ArrowUp: () => movedBy(shown, 0, -step),
      ArrowDown: () => movedBy(shown, 0, step),
      "+": () => sizedTo(shown, shown.tall + step),
      "=": () => sizedTo(shown, shown.tall + step),
      "-": () => sizedTo(shown, shown.tall - step),
    };
    const act = acts[event.key];
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    onPlace(act());
  };
  const wheel = (event: WheelEvent) => onPlace(sizedTo(shown, shown.tall * (event.deltaY < 0 ? 1.04 : 1 / 1.04)));
  const number = (label: string, value: number, put: (value: number) => Placement) => (
    <label className="flex items-center gap-1.5 text-[13px]">
      {label}
      <NumberField label={`${label} of the cut-out`} value={value} digits={2} onCommit={(next) => onPlace(put(next))} />
    </label>
  );

  return (
    <Popover.Root>
      <Popover.Trigger className="rounded font-semibold text-amber hover:underline">{placement ? "placed" : "place it"}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="start" sideOffset={6} aria-label="Where it stands" className="z-40 w-[290px] rounded-lg border border-rule bg-sheet p-3 shadow-xl focus-visible:!outline-none">
          <div className="relative overflow-hidden rounded bg-mid" style={{ width: WIDE, height }} onWheel={wheel}>
            <button
              type="button"
              aria-label={`The cut-out: middle ${shown.x.toFixed(2)}, lower edge ${shown.y.toFixed(2)}, height ${shown.tall.toFixed(2)}; arrows move it, plus and minus size it`}
              onKeyDown={key}
              onPointerDown={(event) => take(event, false)}
              onPointerMove={carry}
              onPointerUp={drop}
              className="absolute cursor-move bg-no-repeat outline-1 outline-lamp"
              style={{
                left: `${left * PERCENT}%`,
                top: `${top * PERCENT}%`,
                width: `${width * PERCENT}%`,
                height: `${tall * PERCENT}%`,
                backgroundImage: `url("${sourceImage(source, 256)}")`,
                backgroundSize: laid.size,
                backgroundPosition: laid.position,
                outlineStyle: "solid",
              }}
            />
            <span
              role="presentation"
              onPointerDown={(event) => take(event, true)}
              onPointerMove={carry}
              onPointerUp={drop}
              className="absolute size-3 cursor-nesw-resize rounded-full border border-deep bg-lamp"
              style={{ left: `calc(${(left + width) * PERCENT}% - 6px)`, top: `calc(${top * PERCENT}% - 6px)` }}
            />
          </div>
          <div className="mt-2 flex items-center justify-between">
            {number("Middle", shown.x, (x) => movedBy(shown, x - shown.x, 0))}
            {number("Edge", shown.y, (y) => movedBy(shown, 0, y - shown.y))}
            {number("Height", shown.tall, (value) => sizedTo(shown, value))}
          </div>
          <div className="mt-2 flex items-center gap-2">
            <Picker label="How it is held" value={shown.stance} options={STANCES} onPick={(stance) => onPlace({ ...shown, stance: stance as Placement["stance"] })} />
            <button type="button" disabled={!placement} onClick={() => onPlace(null)} className="shrink-0 rounded px-1.5 py-1 text-[13px] text-amber hover:underline disabled:text-faint disabled:no-underline">
              as it came
            </button>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
