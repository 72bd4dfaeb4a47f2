import { memo } from "react";
import { takeImage, takePreview, takeSource, takeThumb, type MarkView, type TakeView } from "../../api/client";
import type { Spot } from "../../primitives/spot";
import { usePointed } from "../../study/pointed";
import { MarkDot } from "../../study/MarkDot";
import { Picture } from "./Picture";
import { Boxed, type Box } from "../../ui/Boxed";

/** Which of its pictures a cell shows: large enough, and no larger. */
export type PictureClass = "thumb" | "small" | "preview" | "full";

/** Up to "small" there is no room in the cell for words. */
export function pictureClass(width: number): PictureClass {
  const pixels = width * window.devicePixelRatio;
  if (pixels > 640) return "full";
  if (pixels > 200) return "preview";
  return width > 110 ? "small" : "thumb";
}

/** A spot that every cell shows, and the size of the cell that shows it. */
interface Close extends Spot {
  width: number;
  height: number;
}

interface Props {
  take: TakeView;
  /** Over the picture in a run; a matrix labels its rows and columns instead. */
  label: string;
  /** What the cell is called for those who do not see it. */
  name: string;
  row: number;
  column: number;
  picture: PictureClass;
  /** A line over the picture, and whether it holds the caption; a matrix labels its rows there. */
  bar: number;
  captioned: boolean;
  mark: MarkView | undefined;
  picked: boolean;
  chosen: boolean;
  blinking: boolean;
  reading: boolean;
  paused: boolean;
  region: Box | null;
  close: Close | null;
  onPick: (take: string, event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => void;
  onOpen: (take: string) => void;
}

function sourceOf(take: TakeView, picture: PictureClass): string {
  if (picture === "full") return takeImage(take.id);
  return picture === "preview" || !take.thumb ? takePreview(take.id) : takeThumb(take.thumb);
}

/** One take on the sheet. The sheet's grid places and sizes it, so that a zoom draws no cell anew. */
export const Cell = memo(function Cell({ take, label, name, row, column, picture, bar, captioned, mark, picked, chosen, blinking, reading, paused, region, close, onPick, onOpen }: Props) {
  const shot = (src: string, full: string, className = "") =>
    close ? (
      <Picture src={src} full={full} alt="" natural={take} width={close.width} height={close.height} spot={close} className={className || "block"} />
    ) : (
      <img src={src} alt="" draggable={false} className={`h-full w-full object-contain ${className || "block"}`} />
    );
  const lit = usePointed((s) => s.take === take.id);
  const roomy = picture !== "thumb";
  return (
    <div className={`flex min-h-0 min-w-0 flex-col [contain:layout_style] ${mark?.value === "drop" ? "opacity-45" : ""}`} style={{ gridRow: row + 1, gridColumn: column + 1 }}>
      {bar > 0 && !captioned && <div aria-hidden className="shrink-0" style={{ height: bar }} />}
      {captioned && (
        <div className="flex shrink-0 items-center gap-1.5 truncate text-[13px]" style={{ height: bar }}>
          <span className="truncate">{label}</span>
          <MarkDot value={mark?.value ?? null} />
        </div>
      )}
      <button
        type="button"
        role="gridcell"
        aria-label={`${name}, ${stateWords(take, paused)}${mark?.value ? `, ${mark.value}` : ""}`}
        aria-selected={picked || chosen}
        data-take={take.id}
        data-cell="take"
        data-state={take.state}
        tabIndex={picked ? 0 : -1}
        onClick={(event) => onPick(take.id, event)}
        onDoubleClick={() => onOpen(take.id)}
        onPointerEnter={() => usePointed.getState().point(take.id)}
        onPointerLeave={() => usePointed.getState().point(null)}
        className={`cell relative block min-h-0 w-full flex-1 ${picked ? "picked" : chosen ? "chosen" : lit ? "lit" : ""}`}
      >
        {take.state === "done" ? (
          <>
            {shot(sourceOf(take, picture), takeImage(take.id))}
            {picked && shot(takeSource(take.id), takeSource(take.id), `absolute inset-0 ${blinking ? "" : "invisible"}`)}
          </>
        ) : (
          <Waiting take={take} paused={paused} />
        )}
        {region && !close && take.state === "done" && <Boxed region={region} />}
        {reading && take.readings && (
          <span className="absolute bottom-1 left-1 rounded bg-black/60 px-1.5 text-xs leading-[18px] text-white tabular-nums">
            {Math.round(take.readings.figures.composition ?? 0)}
            {roomy && <span> kept{typeof take.readings.figures.look === "number" && `, look ${Math.round(take.readings.figures.look)}`}</span>}
          </span>
        )}
        {take.recipe.quality === "draft" && roomy && <span className="absolute right-1 bottom-1 rounded bg-black/60 px-1.5 text-xs leading-[18px] text-white">draft</span>}
        {!captioned && mark?.value && (
          <span className="absolute top-1 left-1">
            <MarkDot value={mark.value} />
          </span>
        )}
        {chosen && <span aria-hidden className="absolute top-1 right-1 h-4 w-4 rounded-full border border-white bg-ember text-center text-[11px] leading-[14px] text-white">✓</span>}
      </button>
    </div>
  );
});

function stateWords(take: TakeView, paused: boolean): string {
  if (take.state === "running") return `step ${take.step} of ${take.steps}`;
  return { queued: paused ? "paused" : "waiting", done: "done", failed: "failed", stopped: "stopped" }[take.state];
}

/** A cell before its take is there: a tide that rises with the steps. */
function Waiting({ take, paused }: { take: TakeView; paused: boolean }) {
  const share = take.steps ? take.step / take.steps : 0;
  return (
    <span className="absolute inset-0 flex items-center justify-center overflow-hidden bg-black/15 p-2 text-[13px]">
      {take.state === "running" && (
        <span className="absolute inset-x-0 bottom-0 bg-white/25 transition-[height] duration-150" style={{ height: `${share * 100}%` }} />
      )}
      <span className="relative text-center">
        {take.state === "failed" ? take.fault : take.state === "queued" ? (paused ? "paused" : "waiting") : take.state === "stopped" ? "stopped; run again to finish" : `${take.step} of ${take.steps}`}
      </span>
    </span>
  );
}
