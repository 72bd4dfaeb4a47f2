import { useRef, useState, type PointerEvent } from "react";
import type { Framing, SourceView } from "../../api/client";
import { resampledDetail } from "../../api/insight";
import { RESAMPLINGS } from "./choices";

interface Props {
  source: SourceView;
  framing: Framing;
  size: number;
  shape: { width: number; height: number };
  onPick: (resampling: NonNullable<Framing["resampling"]>) => void;
}

const SIDE = 128;

/** The same detail of this very picture in every method, pixel for pixel; dragging one moves them all. */
export function ResamplingStrip({ source, framing, size, shape, onPick }: Props) {
  const [spot, setSpot] = useState({ x: 0.5, y: 0.5 });
  const drag = useRef<{ x: number; y: number; spot: typeof spot; far: boolean } | null>(null);
  const [shown, setShown] = useState(spot);
  const move = (event: PointerEvent) => {
    const from = drag.current;
    if (!from) return;
    const keep = (v: number) => Math.min(Math.max(v, 0), 1);
    from.far ||= Math.hypot(event.clientX - from.x, event.clientY - from.y) > 4;
    setSpot({ x: keep(from.spot.x - (event.clientX - from.x) / shape.width), y: keep(from.spot.y - (event.clientY - from.y) / shape.height) });
  };
  return (
    <div role="radiogroup" aria-label="Resampling side by side" className="flex items-start justify-center gap-3 bg-mid px-4 pt-2 pb-2 text-white">
      {RESAMPLINGS.filter((r) => r.value !== "auto").map(({ value, title, detail }) => (
        <button
          key={value}
          type="button"
          role="radio"
          aria-checked={framing.resampling === value}
          aria-label={`${title}: ${detail}`}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            drag.current = { x: event.clientX, y: event.clientY, spot, far: false };
          }}
          onPointerMove={move}
          onPointerUp={() => {
            if (drag.current && !drag.current.far) onPick(value);
            drag.current = null;
            setShown(spot);
          }}
          onKeyDown={(event) => event.key === " " && onPick(value)}
          className="w-[160px] touch-none text-left text-xs leading-tight"
        >
          <img
            src={resampledDetail(source, { ...framing, resampling: value }, size, shown.x, shown.y)}
            alt=""
            width={SIDE}
            height={SIDE}
            draggable={false}
            className={`mb-1 object-cover ${framing.resampling === value ? "outline-2 outline-offset-1 outline-white" : ""}`}
          />
          <span className="font-semibold">{title}</span>
          <br />
          {detail}
        </button>
      ))}
    </div>
  );
}
