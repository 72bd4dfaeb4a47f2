import { Waypoints } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { KeyCap } from "../../ui/Button";
import type { FromTake } from "../../study/fromTake";

interface Props {
  items: FromTake[];
  open: boolean;
  disabled: boolean;
  onOpen: (open: boolean) => void;
  onTry: (item: FromTake) => void;
}

/** What can be tried from a take, one thing changed at a time; runs at once. */
export function TryMenu({ items, open, disabled, onOpen, onTry }: Props) {
  return (
    <DropdownMenu.Root open={open} onOpenChange={onOpen} modal={false}>
      <DropdownMenu.Trigger disabled={disabled} title="Run takes around this one, one thing changed" className="inline-flex h-8 items-center justify-between rounded-md border border-rule bg-sheet px-3 font-semibold hover:border-faint disabled:text-faint">
        <span className="flex items-center gap-1.5"><Waypoints size={15} /> Try around it</span>
        <KeyCap>T</KeyCap>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content side="left" align="start" sideOffset={6} className="z-40 max-h-[70vh] w-64 overflow-y-auto rounded-lg border border-rule bg-sheet p-1 text-ink shadow-xl">
          {items.map((item) => (
            <DropdownMenu.Item key={item.title} onSelect={() => onTry(item)} className="flex cursor-pointer flex-col rounded px-3 py-1 outline-none data-[highlighted]:bg-glow">
              <span className="font-semibold">{item.title}</span>
              <span className="text-xs text-faint">{item.detail}</span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
