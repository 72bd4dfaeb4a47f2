import { useDraggable, useDroppable } from "@dnd-kit/core";
import { memo } from "react";
import { takeImage, takePreview } from "../../api/client";
import type { Hung } from "../../api/wall";
import type { Placed } from "../../primitives/rows";

interface Props {
  hung: Hung;
  at: Placed;
  label: string;
  caption: string;
  picked: boolean;
  beside: boolean;
  onPick: (id: string, beside: boolean) => void;
  onOpen: (hung: Hung) => void;
  onCaption: (id: string, caption: string) => void;
}

/** Wider than this a picture is shown whole instead of its preview. */
const PREVIEW = 640;

/** One picture on the wall: dragged to another's place, picked by a click, opened by two. */
export const Picture = memo(function Picture({ hung, at, label, caption, picked, beside, onPick, onOpen, onCaption }: Props) {
  const { take } = hung;
  const drag = useDraggable({ id: take.id });
  const drop = useDroppable({ id: take.id });
  const ring = picked ? "outline-lamp outline-3" : beside ? "outline-teal outline-3" : drop.isOver ? "outline-white outline-2" : "outline-transparent";
  return (
    <figure ref={drop.setNodeRef} className="absolute m-0" style={{ left: at.x, top: at.y, width: at.width }}>
      <button
        ref={drag.setNodeRef}
        type="button"
        data-hung={take.id}
        aria-label={label}
        aria-pressed={picked || beside}
        title={`${hung.study}\n${label}`}
        {...drag.listeners}
        onClick={(event) => onPick(take.id, event.shiftKey || event.ctrlKey)}
        onDoubleClick={() => onOpen(hung)}
        className={`block w-full cursor-pointer outline ${ring} ${drag.isDragging ? "opacity-40" : ""}`}
        style={{ height: at.height }}
      >
        <img src={at.width * window.devicePixelRatio > PREVIEW ? takeImage(take.id) : takePreview(take.id)} alt="" draggable={false} loading="lazy" className="h-full w-full" />
      </button>
      {picked ? (
        <input
          aria-label="Caption"
          placeholder="a caption"
          maxLength={200}
          defaultValue={caption}
          onBlur={(event) => event.target.value.trim() !== caption && onCaption(take.id, event.target.value.trim())}
          onKeyDown={(event) => (event.key === "Enter" || event.key === "Escape") && event.currentTarget.blur()}
          className="mt-0.5 h-5 w-full rounded border border-current/40 bg-transparent px-1 text-[13px] placeholder:text-current/60 focus:outline-none"
        />
      ) : (
        caption && <figcaption className="mt-0.5 truncate px-0.5 text-[13px] leading-5">{caption}</figcaption>
      )}
    </figure>
  );
});
