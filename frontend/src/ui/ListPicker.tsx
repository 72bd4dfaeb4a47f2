import { Check, UnfoldHorizontal } from "lucide-react";
import { Popover } from "radix-ui";
import { Picker } from "./Picker";

interface Option {
  value: string;
  title: string;
  detail: string;
  group?: string;
}

interface Props {
  label: string;
  options: Option[];
  value: string;
  /** Values that are ticked; none when the control has one value. */
  ticked: string[];
  onPick: (value: string) => void;
  onTick: (values: string[]) => void;
}

/** A choice of one that stretches into a list: ticked values are an axis of the sweep. */
export function ListPicker({ label, options, value, ticked, onPick, onTick }: Props) {
  const some = ticked.length > 1;
  return (
    <Ticks label={label} options={options} value={value} ticked={ticked} onTick={onTick}>
      <span className="flex min-w-0 flex-1 items-center gap-0.5">
        {some ? (
          <Popover.Trigger asChild>
            <button type="button" aria-label={`${label}: ${ticked.length} ticked`} className="inline-flex h-7 min-w-0 flex-1 items-center rounded-md border border-amber bg-glow px-2 font-semibold text-amber">
              <span className="truncate">{ticked.map((v) => options.find((o) => o.value === v)?.title ?? v).join(", ")}</span>
            </button>
          </Popover.Trigger>
        ) : (
          <span className="min-w-0 flex-1">
            <Picker label={label} value={value} options={options} onPick={onPick} />
          </span>
        )}
        {some ? (
          <button type="button" aria-label={`${label}: back to one value`} title="Back to one value" onClick={() => onTick([])} className="rounded p-0.5 text-amber hover:bg-glow">
            <UnfoldHorizontal size={14} />
          </button>
        ) : (
          <TickTrigger label={label} on={false} />
        )}
      </span>
    </Ticks>
  );
}

/** The sign that stretches a choice into a list. */
export function TickButton({ label, ...rest }: Omit<Props, "onPick">) {
  return (
    <Ticks label={label} {...rest}>
      <TickTrigger label={label} on={rest.ticked.length > 1} />
    </Ticks>
  );
}

function TickTrigger({ label, on }: { label: string; on: boolean }) {
  return (
    <Popover.Trigger aria-label={`Tick several: ${label}`} title="Tick several: they become an axis of the sweep" className={`rounded p-0.5 hover:bg-glow ${on ? "text-amber" : "text-faint"}`}>
      <UnfoldHorizontal size={14} />
    </Popover.Trigger>
  );
}

/** What opens the list, and the list, which stays open while one value becomes several. */
function Ticks({ label, options, value, ticked, onTick, children }: Omit<Props, "onPick"> & { children: React.ReactNode }) {
  const now = ticked.length ? ticked : [value];
  const toggle = (option: string) => onTick(options.map((o) => o.value).filter((v) => (v === option ? !now.includes(v) : now.includes(v))));
  return (
    <Popover.Root>
      {children}
      <Popover.Portal>
        <Popover.Content sideOffset={4} align="start" aria-label={`${label}: values of the axis`} className="z-40 max-h-[60vh] w-60 overflow-y-auto rounded-lg border border-rule bg-sheet p-1 text-ink shadow-xl">
          <div className="flex justify-between px-2 py-1 text-xs text-faint">
            <span>{now.length} of {options.length} ticked</span>
            <button type="button" className="text-amber hover:underline" onClick={() => onTick(now.length === options.length ? [value] : options.map((o) => o.value))}>
              {now.length === options.length ? "only one" : "all"}
            </button>
          </div>
          {options.map((option, i) => (
            <div key={option.value}>
              {option.group && option.group !== options[i - 1]?.group && <p className="px-2 pt-2 pb-0.5 text-xs tracking-wide text-faint uppercase">{option.group}</p>}
              <button
                type="button"
                role="checkbox"
                aria-checked={now.includes(option.value)}
                onClick={() => toggle(option.value)}
                className="flex w-full items-center gap-2 rounded px-2 py-1 text-left hover:bg-glow"
              >
                <span className={`flex h-4 w-4 shrink-0 items-center justify-center rounded border ${now.includes(option.value) ? "border-ember bg-ember text-white" : "border-faint"}`}>
                  {now.includes(option.value) && <Check size={12} />}
                </span>
                <span className="truncate">{option.title}</span>
              </button>
            </div>
          ))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
