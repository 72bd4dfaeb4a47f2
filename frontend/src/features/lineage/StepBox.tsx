import { memo, useEffect, useRef } from "react";
import type { MarkValue } from "../../api/client";
import { counted } from "../../primitives/words";
import { MarkDot } from "../../study/MarkDot";
import type { Laid } from "./layout";

interface Props {
  step: Laid;
  level: number;
  picked: boolean;
  beside: boolean;
  /** Whether it led to what is picked. */
  lit: boolean;
  /** Whether the tab key comes to it though nothing is picked. */
  first: boolean;
  onPick: (id: string, beside: boolean) => void;
  onOpen: (id: string) => void;
}

/** One step: its picture, what it is, what makes it another than what it came from. */
export const StepBox = memo(function StepBox({ step, level, picked, beside, lit, first, onPick, onOpen }: Props) {
  const { node } = step;
  const box = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (picked && document.activeElement?.getAttribute("role") === "treeitem") box.current?.focus({ preventScroll: true });
  }, [picked]);
  const says = node.says.join(", ");
  const title = node.kind === "sweep" ? `${node.title}, ${counted(node.count, "take")}` : node.title;
  const border = picked ? "border-lamp ring-2 ring-lamp" : beside ? "border-teal ring-2 ring-teal" : lit ? "border-lamp" : "border-rule";
  return (
    <button
      ref={box}
      type="button"
      role="treeitem"
      aria-level={level}
      aria-selected={picked}
      aria-label={`${title}${says ? `: ${says}` : ""}${node.mark ? `, ${node.mark}` : ""}`}
      title={[title, ...node.says].join("\n")}
      tabIndex={picked || first ? 0 : -1}
      data-step={node.id}
      onClick={(event) => onPick(node.id, event.shiftKey || event.ctrlKey)}
      onDoubleClick={() => onOpen(node.id)}
      className={`absolute flex cursor-pointer flex-col overflow-hidden rounded-md border bg-paper text-left text-ink ${border} ${lit || picked || beside ? "" : "opacity-85 hover:opacity-100"}`}
      style={{ left: step.x, top: step.y, width: step.width, height: step.height }}
    >
      {node.at && <img src={node.at} alt="" loading="lazy" decoding="async" draggable={false} className="h-[88px] w-full bg-mid object-contain" />}
      <span className="flex min-h-0 flex-1 flex-col justify-center px-1.5 py-0.5 leading-[15px]">
        <span className="flex items-center gap-1 truncate text-[13px] font-semibold">
          {node.mark && <MarkDot value={node.mark as MarkValue} decorative />}
          <span className="truncate">{title}</span>
        </span>
        <span className="line-clamp-2 text-[12px] text-faint">{says}</span>
      </span>
    </button>
  );
});
