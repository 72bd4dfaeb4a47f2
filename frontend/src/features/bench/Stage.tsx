import { useCallback, useEffect, useRef, useState, type PointerEvent, type ReactNode } from "react";
import { fitted, kept, LARGEST_SCALE, zoomedAt, type Size, type View } from "../../primitives/view";
import { useElementSize } from "../../app/useElementSize";

export type Mode = "divider" | "pair" | "alone";

interface Props {
  mode: Mode;
  picture: Size;
  source: string;
  take: string;
  blinking: boolean;
  divider: number;
  onDivider: (at: number) => void;
  view: View | null;
  onView: (view: View) => void;
}

const MARGIN = 24;
const NOTHING_CUT = "inset(0)";
const ALL_CUT = "inset(0 100% 0 0)";
export const SCALES = [0.25, 0.5, 0.75, 1, 1.5, 2, 3, LARGEST_SCALE];

/** Source and take under one shared zoom and pan. */
export function Stage({ mode, picture, source, take, blinking, divider, onDivider, view, onView }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const size = useElementSize(frame);
  const pane: Size = mode === "pair" ? { width: (size.width - 2) / 2, height: size.height } : size;
  const ready = size.width > 0;
  const current = view ?? fitted(picture, pane, MARGIN);
  const drag = useRef<{ kind: "pan" | "divider"; x: number; y: number; view: View } | null>(null);
  const [grabbing, setGrabbing] = useState(false);
  const latest = useRef({ current, pane, picture, onView });
  useEffect(() => {
    latest.current = { current, pane, picture, onView };
  });

  const wheel = useCallback((event: WheelEvent) => {
    event.preventDefault();
    const now = latest.current;
    const box = frame.current!.getBoundingClientRect();
    const px = (event.clientX - box.left) % (now.pane.width + 2);
    const scale = Math.min(Math.max(now.current.scale * Math.exp(-event.deltaY * 0.0016), 0.1), LARGEST_SCALE);
    now.onView(kept(zoomedAt(now.current, scale, px, event.clientY - box.top), now.picture, now.pane));
  }, []);
  useEffect(() => {
    const node = frame.current!;
    // React's own wheel listener is passive and could not keep the page from scrolling.
    node.addEventListener("wheel", wheel, { passive: false });
    return () => node.removeEventListener("wheel", wheel);
  }, [wheel]);

  const left = current.x + picture.width * current.scale * divider;
  const down = (kind: "pan" | "divider", event: PointerEvent) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    frame.current!.setPointerCapture(event.pointerId);
    drag.current = { kind, x: event.clientX, y: event.clientY, view: current };
    setGrabbing(kind === "pan");
  };
  const move = (event: PointerEvent) => {
    const now = drag.current;
    if (!now) return;
    if (now.kind === "divider") {
      const at = (event.clientX - frame.current!.getBoundingClientRect().left - current.x) / (picture.width * current.scale);
      onDivider(Math.min(Math.max(at, 0), 1));
    } else {
      const moved = { ...now.view, x: now.view.x + event.clientX - now.x, y: now.view.y + event.clientY - now.y };
      onView(kept(moved, picture, pane));
    }
  };
  const up = () => {
    drag.current = null;
    setGrabbing(false);
  };

  const placed = (src: string, alt: string, clip = NOTHING_CUT) => (
    <img
      src={src}
      alt={alt}
      draggable={false}
      className="absolute top-0 left-0 max-w-none origin-top-left"
      style={{
        width: picture.width,
        height: picture.height,
        transform: `translate(${current.x}px, ${current.y}px) scale(${current.scale})`,
        imageRendering: current.scale > 2 ? "pixelated" : "auto",
        clipPath: clip,
      }}
    />
  );
  const over = (1 - divider) * 100;
  // Both pictures are there all the time, so that a blink is one frame and never a load.
  const blinkPane = (
    <Pane label={blinking ? "source" : "take"}>
      {placed(take, "Take")}
      {placed(source, "Source", blinking ? NOTHING_CUT : ALL_CUT)}
    </Pane>
  );

  return (
    <div
      ref={frame}
      data-testid="stage"
      onPointerDown={(event) => down("pan", event)}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={up}
      className={`relative min-h-0 flex-1 touch-none overflow-hidden ${grabbing ? "cursor-grabbing" : "cursor-grab"}`}
    >
      {ready && mode === "pair" && (
        <div className="absolute inset-0 grid grid-cols-2 gap-0.5">
          <Pane label="source">{placed(source, "Source")}</Pane>
          {blinkPane}
        </div>
      )}
      {ready && mode === "alone" && blinkPane}
      {ready && mode === "divider" && (
        <div className="absolute inset-0">
          {placed(take, "Take")}
          {placed(source, "Source", blinking ? NOTHING_CUT : `inset(0 ${over}% 0 0)`)}
          {!blinking && (
            <div
              role="slider"
              aria-label="Divider between source and take"
              aria-valuemin={0}
              aria-valuemax={100}
              aria-valuenow={Math.round(divider * 100)}
              data-testid="divider"
              onPointerDown={(event) => down("divider", event)}
              className="absolute w-6 -translate-x-1/2 cursor-ew-resize"
              style={{ left, top: Math.max(current.y, 0), bottom: Math.max(size.height - current.y - picture.height * current.scale, 0) }}
            >
              <span className="absolute inset-y-0 left-1/2 w-0.5 -translate-x-1/2 bg-white shadow-[0_0_0_1px_rgba(0,0,0,.35)]" />
              <span className="absolute top-1/2 left-1/2 h-7 w-3 -translate-x-1/2 -translate-y-1/2 rounded-full border border-black/40 bg-white" />
            </div>
          )}
          <Corner side="left">source</Corner>
          <Corner side="right">{blinking ? "source" : "take"}</Corner>
        </div>
      )}
    </div>
  );
}

function Pane({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="relative h-full overflow-hidden">
      {children}
      <Corner side="left">{label}</Corner>
    </div>
  );
}

function Corner({ side, children }: { side: "left" | "right"; children: string }) {
  return (
    <span className={`pointer-events-none absolute top-2.5 rounded bg-black/45 px-2 py-0.5 text-[13px] text-white ${side === "left" ? "left-3" : "right-3"}`}>
      {children}
    </span>
  );
}

/** The next scale up or down from one that may lie between. */
export function nextScale(scale: number, up: boolean): number {
  const found = up ? SCALES.find((s) => s > scale * 1.01) : [...SCALES].reverse().find((s) => s < scale * 0.99);
  return found ?? scale;
}

/** Zoom about the middle of what is seen. */
export function zoomedInMiddle(view: View, pane: Size, scale: number): View {
  return zoomedAt(view, scale, pane.width / 2, pane.height / 2);
}
