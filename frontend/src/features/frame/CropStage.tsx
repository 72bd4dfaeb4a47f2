import { useEffect, useRef, type KeyboardEvent, type PointerEvent } from "react";
import type { Framing } from "../../api/client";
import { useElementSize } from "../../common/useElementSize";
import { draggedCrop, type Crop, type Handle } from "../../primitives/crop";
import { nudgeOf } from "../../primitives/nudge";
import { drawFramed } from "./draw";

interface Props {
  image: HTMLImageElement | null;
  framing: Framing;
  crop: Crop;
  turned: { width: number; height: number };
  /** Width over height, in shares of the picture, that the box keeps. */
  locked: number | null;
  onCrop: (crop: Crop) => void;
}

const MARGIN = 28;
const HANDLES: { handle: Handle; place: string }[] = [
  { handle: "nw", place: "-top-2 -left-2 cursor-nwse-resize" },
  { handle: "ne", place: "-top-2 -right-2 cursor-nesw-resize" },
  { handle: "sw", place: "-bottom-2 -left-2 cursor-nesw-resize" },
  { handle: "se", place: "-bottom-2 -right-2 cursor-nwse-resize" },
  { handle: "n", place: "-top-1.5 left-1/2 h-2.5 w-6 -translate-x-1/2 cursor-ns-resize" },
  { handle: "s", place: "-bottom-1.5 left-1/2 h-2.5 w-6 -translate-x-1/2 cursor-ns-resize" },
  { handle: "w", place: "top-1/2 -left-1.5 h-6 w-2.5 -translate-y-1/2 cursor-ew-resize" },
  { handle: "e", place: "top-1/2 -right-1.5 h-6 w-2.5 -translate-y-1/2 cursor-ew-resize" },
];

/** The whole picture with the crop on it; what is lost lies in the dark. */
export function CropStage({ image, framing, crop, turned, locked, onCrop }: Props) {
  const stage = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const room = useElementSize(stage);
  const scale = Math.min((room.width - 2 * MARGIN) / turned.width, (room.height - 2 * MARGIN) / turned.height, 2);
  const view = { width: Math.max(turned.width * scale, 1), height: Math.max(turned.height * scale, 1) };
  useEffect(() => {
    if (canvas.current && image && room.width) drawFramed(canvas.current, image, framing, view.width, view.height);
  }, [image, framing, room.width, view.width, view.height]);

  const drag = useRef<{ handle: Handle; x: number; y: number; crop: Crop } | null>(null);
  const grab = (handle: Handle, event: PointerEvent) => {
    event.preventDefault();
    event.stopPropagation();
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    drag.current = { handle, x: event.clientX, y: event.clientY, crop };
  };
  const move = (event: PointerEvent) => {
    const now = drag.current;
    if (now) onCrop(draggedCrop(now.crop, now.handle, (event.clientX - now.x) / view.width, (event.clientY - now.y) / view.height, locked));
  };
  const letGo = () => {
    drag.current = null;
  };
  const nudge = (event: KeyboardEvent) => {
    const way = nudgeOf(event);
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    onCrop(draggedCrop(crop, event.altKey ? "se" : "move", way[0], way[1], locked));
  };
  const pieces = { left: `${crop.left * 100}%`, top: `${crop.top * 100}%`, width: `${(crop.right - crop.left) * 100}%`, height: `${(crop.bottom - crop.top) * 100}%` };
  return (
    <div ref={stage} className="relative flex min-h-0 min-w-0 flex-1 items-center justify-center overflow-hidden">
      {room.width > 0 && (
        <div className="relative" style={view} onPointerMove={move} onPointerUp={letGo} onPointerCancel={letGo}>
          <canvas ref={canvas} className="block" style={view} aria-label="The whole picture" />
          <div
            data-testid="crop"
            tabIndex={0}
            role="group"
            aria-label="Crop: arrows move it, with Alt they size it"
            onKeyDown={nudge}
            onPointerDown={(event) => grab("move", event)}
            className="absolute cursor-move touch-none border border-white shadow-[0_0_0_1px_rgba(0,0,0,.5),0_0_0_4000px_rgba(40,40,40,.62)]"
            style={pieces}
          >
            {HANDLES.map(({ handle, place }) => (
              <span
                key={handle}
                data-corner={handle}
                onPointerDown={(event) => grab(handle, event)}
                className={`absolute touch-none rounded-sm border-2 border-deep bg-white ${handle.length === 2 ? "h-4 w-4" : ""} ${place}`}
              />
            ))}
          </div>
        </div>
      )}
    </div>
  );
}
