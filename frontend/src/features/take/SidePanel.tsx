import { PanelRightClose, PanelRightOpen } from "lucide-react";
import { useLayoutEffect, useRef, useState, type ReactNode } from "react";
import { usePreferences } from "../../common/preferences";
import { asideFor, SIDE_WIDTH } from "../../primitives/aside";
import { useColumns } from "../../study/columns";

interface Props {
  label: string;
  /** The take that it speaks of, for which it steps aside; null for several. */
  beside: string | null;
  children: ReactNode;
}

/** What is said of a take: over the sheet at its right, moving no cell, and never over the take itself. Can be tucked away. */
export function SidePanel({ label, beside, children }: Props) {
  const tucked = usePreferences((s) => s.tucked);
  const panel = useRef<HTMLElement>(null);
  const right = useAside(panel, beside);
  if (tucked) return <Tucked label={label} />;
  return (
    <aside ref={panel} aria-label={label} className="absolute top-1 bottom-1 z-20 flex flex-col gap-2.5 overflow-y-auto rounded-lg border border-rule bg-paper p-3 text-ink shadow-xl [scrollbar-width:thin]" style={{ right, width: SIDE_WIDTH }}>
      <TuckButton />
      {children}
    </aside>
  );
}

/** The same beside a picture instead of over it; tucked away, the picture gets its room. */
export function DockedPanel({ label, children }: Omit<Props, "beside">) {
  const tucked = usePreferences((s) => s.tucked);
  if (tucked) return <Tucked label={label} />;
  return (
    <aside aria-label={label} className="relative flex shrink-0 flex-col gap-2.5 overflow-y-auto border-l border-rule bg-paper p-3 [scrollbar-width:thin]" style={{ width: SIDE_WIDTH }}>
      <TuckButton />
      {children}
    </aside>
  );
}

function TuckButton() {
  const tuck = usePreferences((s) => s.tuck);
  return (
    <button type="button" aria-label="Tuck it away" title="Tuck it away (,)" onClick={tuck} className="absolute top-2.5 right-2 rounded p-1 text-faint hover:bg-glow hover:text-ink">
      <PanelRightClose size={16} />
    </button>
  );
}

function Tucked({ label }: { label: string }) {
  const tuck = usePreferences((s) => s.tuck);
  return (
    <aside aria-label={label} className="absolute right-0 bottom-3 z-20">
      <button type="button" aria-label="Show what is said of the take" title="What is said of the take (,)" onClick={tuck} className="flex h-9 w-7 items-center justify-center rounded-l-md border border-r-0 border-rule bg-paper text-faint shadow hover:text-ink">
        <PanelRightOpen size={16} />
      </button>
    </aside>
  );
}

/** Distance from the right edge: none, unless the take lies there. */
function useAside(panel: React.RefObject<HTMLElement | null>, take: string | null): number {
  const [right, setRight] = useState<number>(0);
  // The sheet says when its columns move.
  const columns = useColumns((s) => s.columns);
  const tucked = usePreferences((s) => s.tucked);
  useLayoutEffect(() => {
    const frame = panel.current?.offsetParent;
    if (!frame) return;
    const place = () => {
      const cell = take ? frame.querySelector(`[data-take="${take}"]`)?.getBoundingClientRect() : undefined;
      setRight(asideFor(frame.getBoundingClientRect(), cell));
    };
    place();
    const watcher = new ResizeObserver(place);
    watcher.observe(frame);
    return () => watcher.disconnect();
  }, [panel, take, columns, tucked]);
  return right;
}
