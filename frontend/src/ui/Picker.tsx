import { Check, ChevronDown } from "lucide-react";
import { Select } from "radix-ui";
import { OVER } from "./over";

interface Option {
  value: string;
  title: string;
  detail: string;
  group?: string;
}

/** Neighbours of one group together; options without a group make one without a name. */
function grouped(options: Option[]): { name: string; members: Option[] }[] {
  const groups: { name: string; members: Option[] }[] = [];
  for (const option of options) {
    const name = option.group ?? "";
    if (groups.at(-1)?.name !== name) groups.push({ name, members: [] });
    groups.at(-1)!.members.push(option);
  }
  return groups;
}

interface Props {
  label: string;
  value: string;
  options: Option[];
  onPick: (value: string) => void;
  /** It lies over the pictures' surround, and is as quiet as that. */
  over?: boolean;
}

/** A choice of one, each with a line on what it is. */
export function Picker({ label, value, options, onPick, over = false }: Props) {
  return (
    <Select.Root value={value} onValueChange={onPick}>
      <Select.Trigger
        aria-label={label}
        className={`inline-flex w-full min-w-0 items-center justify-between rounded-md font-semibold ${over ? `h-6 gap-1 px-1.5 ${OVER}` : "h-7 gap-2 border border-rule bg-sheet px-2 hover:border-faint"}`}>
        <span className="truncate">
          <Select.Value />
        </span>
        <Select.Icon>
          <ChevronDown size={14} className={`shrink-0 ${over ? "" : "text-faint"}`} />
        </Select.Icon>
      </Select.Trigger>
      <Select.Portal>
        <Select.Content
          // Once picked, letters are keys of the desk again, not first letters of options; Tab goes on from here.
          onCloseAutoFocus={(event) => {
            event.preventDefault();
            if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
          }}
          position="popper" sideOffset={4} className="z-40 max-h-[60vh] min-w-[var(--radix-select-trigger-width)] overflow-hidden rounded-lg border border-rule bg-sheet text-ink shadow-xl">
          <Select.Viewport className="p-1">
            {grouped(options).map(({ name, members }) => (
              <Select.Group key={name}>
                {name && <Select.Label className="px-2 pt-2 pb-0.5 text-xs tracking-wide text-faint uppercase">{name}</Select.Label>}
                {members.map((option) => (
                  <Select.Item key={option.value} value={option.value} className="flex max-w-[340px] cursor-pointer items-start gap-2 rounded px-2 py-1.5 outline-none data-[highlighted]:bg-glow">
                    <Select.ItemIndicator className="pt-0.5 text-amber">
                      <Check size={14} />
                    </Select.ItemIndicator>
                    <div className={option.value === value ? "" : "pl-[22px]"}>
                      <Select.ItemText>{option.title}</Select.ItemText>
                      {option.detail && <p className="text-xs text-faint">{option.detail}</p>}
                    </div>
                  </Select.Item>
                ))}
              </Select.Group>
            ))}
          </Select.Viewport>
        </Select.Content>
      </Select.Portal>
    </Select.Root>
  );
}
