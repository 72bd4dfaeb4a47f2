import { useEffect, useRef, type KeyboardEvent, type PointerEvent } from "react";
import type { Framing } from "../../api/client";
import type { Placed } from "../../primitives/framing";
import { nudgeOf } from "../../primitives/nudge";
import { drawResult } from "./draw";

interface Props {
  image: HTMLImageElement | null;
  framing: Framing;
  original: { width: number; height: number };
  size: number;
  placed: Placed;
  onShift: (shift: { shift_x: number; shift_y: number }) => void;
}

const SIDE = 248;
const clamp = (v: number) => Math.round(Math.min(Math.max(v, -1), 1) * 1000) / 1000;

/** The output as the engine will see it; dragging moves the picture on its ground. */
export function Result({ image, framing, original, size, placed, onShift }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const drag = useRef<{ x: number; y: number; shift_x: number; shift_y: number } | null>(null);
  const fit = Math.min(SIDE / placed.width, SIDE / placed.height);
  const view = { width: placed.width * fit, height: placed.height * fit };
  useEffect(() => {
    if (canvas.current && image) drawResult(canvas.current, image, framing, original, size);
  }, [image, framing, original, size]);
  const shift = { shift_x: framing.shift_x ?? 0, shift_y: framing.shift_y ?? 0 };
  const to = (x: number, y: number) => onShift({ shift_x: clamp(x), shift_y: clamp(y) });
  const move = (event: PointerEvent) => {
    const from = drag.current;
    if (from) to(from.shift_x + (event.clientX - from.x) / view.width, from.shift_y + (event.clientY - from.y) / view.height);
  };
  const nudge = (event: KeyboardEvent) => {
    const way = nudgeOf(event);
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    to(shift.shift_x + way[0], shift.shift_y + way[1]);
  };
  return (
    <figure className="m-0 flex w-[288px] shrink-0 flex-col justify-center px-5">
      <figcaption className="pb-1 text-[13px]">what the engine gets</figcaption>
      <canvas
        ref={canvas}
        tabIndex={0}
        role="img"
        data-testid="result"
        aria-label="The framed picture: drag or arrows move it on its ground"
        className="cursor-grab touch-none"
        style={view}
        onKeyDown={nudge}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          drag.current = { x: event.clientX, y: event.clientY, ...shift };
        }}
        onPointerMove={move}
        onPointerUp={() => (drag.current = null)}
        onPointerCancel={() => (drag.current = null)}
      />
    </figure>
  );
}
