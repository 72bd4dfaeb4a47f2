import { useCallback, useEffect, useRef, useState, type CSSProperties, type PointerEvent, type ReactNode } from "react";
import { useElementSize } from "../../common/useElementSize";
import { before, clipOf, middleOf, throughPoint, turnedTo, type Divider } from "../../primitives/divide";
import { fitted, kept, LARGEST_SCALE, zoomedAt, type Size, type View } from "../../primitives/view";
import type { Box } from "../../ui/Boxed";
import type { Pointed } from "./Under";

export type Mode = "divider" | "pair" | "alone";
/** What is laid over every picture. */
export type Over = "heat" | "lines" | "difference" | null;

export interface Shot {
  id: string;
  label: string;
  src: string;
}

interface Props {
  mode: Mode;
  picture: Size;
  /** What takes are compared with: the source, or another take. */
  against: Shot;
  takes: Shot[];
  blinking: boolean;
  over: Over;
  /** A picture to lay over, and the box of the worst place. */
  overlay: string | null;
  worst: Box | null;
  divider: Divider;
  onDivider: (divider: Divider) => void;
  view: View | null;
  onView: (view: View) => void;
  onPoint: (at: Pointed | null) => void;
}

/** Round a picture that fits, and how far a small one is enlarged to fit. */
export const MARGIN = 4;
export const MOST_FIT = 4;
const GAP = 2;
const ALL_CUT = "inset(0 100% 0 0)";
export const SCALES = [0.25, 0.5, 0.75, 1, 1.5, 2, 3, LARGEST_SCALE];

/** Panes side by side: how many in a row for so many pictures. */
export const paneColumns = (count: number): number => (count <= 3 ? count : Math.ceil(count / 2));

/** The size of one pane of a room. */
export function paneOf(mode: Mode, takes: number, room: Size): Size {
  const count = mode === "pair" ? takes + 1 : mode === "alone" ? takes : 1;
  const columns = paneColumns(count);
  const rows = Math.ceil(count / columns);
  return { width: (room.width - GAP * (columns - 1)) / columns, height: (room.height - GAP * (rows - 1)) / rows };
}

/** Pictures under one shared zoom and pan. */
export function Stage({ mode, picture, against, takes, blinking, over, overlay, worst, divider, onDivider, view, onView, onPoint }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const size = useElementSize(frame);
  const pane = paneOf(mode, takes.length, size);
  const current = view ?? fitted(picture, pane, MARGIN, MOST_FIT);
  const drag = useRef<{ kind: "pan" | "divider" | "turn"; x: number; y: number; view: View } | null>(null);
  const [grabbing, setGrabbing] = useState(false);
  const latest = useRef({ current, pane, picture, onView });
  useEffect(() => {
    latest.current = { current, pane, picture, onView };
  });

  /** Where an event lies in its pane, in screen pixels. */
  const inPane = (event: { clientX: number; clientY: number }, within: Size): [number, number] => {
    const box = frame.current!.getBoundingClientRect();
    return [(event.clientX - box.left) % (within.width + GAP), (event.clientY - box.top) % (within.height + GAP)];
  };
  const wheel = useCallback((event: WheelEvent) => {
    event.preventDefault();
    const now = latest.current;
    const box = frame.current!.getBoundingClientRect();
    const px = (event.clientX - box.left) % (now.pane.width + GAP);
    const py = (event.clientY - box.top) % (now.pane.height + GAP);
    const scale = Math.min(Math.max(now.current.scale * Math.exp(-event.deltaY * 0.0016), 0.1), LARGEST_SCALE);
    now.onView(kept(zoomedAt(now.current, scale, px, py), now.picture, now.pane));
  }, []);
  useEffect(() => {
    const node = frame.current!;
    // React's own wheel listener is passive and could not keep the page from scrolling.
    node.addEventListener("wheel", wheel, { passive: false });
    return () => node.removeEventListener("wheel", wheel);
  }, [wheel]);

  const down = (kind: "pan" | "divider" | "turn", event: PointerEvent) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    frame.current!.setPointerCapture(event.pointerId);
    drag.current = { kind, x: event.clientX, y: event.clientY, view: current };
    setGrabbing(kind === "pan");
  };
  const move = (event: PointerEvent) => {
    const [px, py] = inPane(event, pane);
    const [x, y] = [(px - current.x) / current.scale, (py - current.y) / current.scale];
    onPoint({ x: x / picture.width, y: y / picture.height });
    const now = drag.current;
    if (!now) return;
    if (now.kind === "divider") onDivider(throughPoint(divider, picture, x, y));
    else if (now.kind === "turn") onDivider(turnedTo(divider, picture, x, y));
    else onView(kept({ ...now.view, x: now.view.x + event.clientX - now.x, y: now.view.y + event.clientY - now.y }, picture, pane));
  };
  const up = () => {
    drag.current = null;
    setGrabbing(false);
  };

  const placed: CSSProperties = {
    width: picture.width,
    height: picture.height,
    transform: `translate(${current.x}px, ${current.y}px) scale(${current.scale})`,
    // Pixels are shown as such where the artist looks at pixels, not where a small picture fits its room.
    imageRendering: view && current.scale > 2 ? "pixelated" : "auto",
  };
  const shown = (src: string, alt: string, clip?: string, blend?: CSSProperties["mixBlendMode"]) => (
    <img key={alt + src} src={src} alt={alt} draggable={false} className="absolute top-0 left-0 max-w-none origin-top-left object-contain" style={{ ...placed, clipPath: clip, mixBlendMode: blend }} />
  );
  const laidOver = (
    <>
      {overlay && shown(overlay, over === "lines" ? "The source's lines" : "Where the composition gave way")}
      {worst && (
        <span
          data-testid="worst"
          className="pointer-events-none absolute border-2 border-white shadow-[0_0_0_1px_rgba(0,0,0,.6)]"
          style={{
            left: current.x + worst.left * picture.width * current.scale,
            top: current.y + worst.top * picture.height * current.scale,
            width: (worst.right - worst.left) * picture.width * current.scale,
            height: (worst.bottom - worst.top) * picture.height * current.scale,
          }}
        />
      )}
    </>
  );
  // Both pictures are there all the time, so that a blink is one frame and never a load.
  const takePane = (take: Shot) => (
    <Pane key={take.id} label={blinking ? against.label : over === "difference" ? `${take.label}: what is different` : take.label}>
      {shown(take.src, "Take")}
      {over === "difference" && !blinking ? shown(against.src, "Difference", undefined, "difference") : shown(against.src, "Compared with", blinking ? undefined : ALL_CUT)}
      {!blinking && laidOver}
    </Pane>
  );
  const panes = mode === "pair" ? takes.length + 1 : takes.length;
  const columns = paneColumns(panes);
  const first = takes[0]!;

  return (
    <div
      ref={frame}
      data-testid="stage"
      onPointerDown={(event) => down("pan", event)}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={up}
      onPointerLeave={() => onPoint(null)}
      className={`relative min-h-0 flex-1 touch-none overflow-hidden ${grabbing ? "cursor-grabbing" : "cursor-grab"}`}
    >
      {size.width > 0 && mode !== "divider" && (
        <div className="absolute inset-0 grid gap-0.5" style={{ gridTemplateColumns: `repeat(${columns}, 1fr)`, gridAutoRows: "1fr" }}>
          {mode === "pair" && (
            <Pane label={against.label}>
              {shown(against.src, "Compared with")}
              {over !== "difference" && laidOver}
            </Pane>
          )}
          {takes.map(takePane)}
        </div>
      )}
      {size.width > 0 && mode === "divider" && (
        <div className="absolute inset-0 isolate">
          {shown(first.src, "Take")}
          {over === "difference" && !blinking ? shown(against.src, "Difference", undefined, "difference") : shown(against.src, "Compared with", blinking ? undefined : clipOf(before(divider, picture), picture))}
          {!blinking && laidOver}
          {!blinking && over !== "difference" && <DividerLine divider={divider} picture={picture} view={current} onGrab={down} />}
          <Corner side="left">{against.label}</Corner>
          <Corner side="right">{blinking ? against.label : first.label}</Corner>
        </div>
      )}
    </div>
  );
}

/** The line itself, with a grip that moves it and a knob that turns it. */
function DividerLine({ divider, picture, view, onGrab }: { divider: Divider; picture: Size; view: View; onGrab: (kind: "divider" | "turn", event: PointerEvent) => void }) {
  const [mx, my] = middleOf(divider, picture);
  const length = Math.hypot(picture.width, picture.height) * view.scale;
  const knob = Math.min(picture.width, picture.height) * view.scale * 0.32;
  return (
    <div className="pointer-events-none absolute" style={{ left: view.x + mx * view.scale, top: view.y + my * view.scale, transform: `rotate(${divider.angle}deg)` }}>
      <div
        role="slider"
        aria-label="Divider between the two pictures"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(divider.at * 100)}
        aria-valuetext={`${Math.round(divider.at * 100)} percent, turned by ${divider.angle} degrees`}
        data-testid="divider"
        onPointerDown={(event) => onGrab("divider", event)}
        className="pointer-events-auto absolute w-6 -translate-x-1/2 -translate-y-1/2 cursor-ew-resize"
        style={{ height: length, clipPath: `inset(${Math.max(0, (length - 2 * knob - 80) / 2)}px 0)` }}
      />
      <span className="absolute w-0.5 -translate-x-1/2 -translate-y-1/2 bg-white shadow-[0_0_0_1px_rgba(0,0,0,.35)]" style={{ height: length }} />
      <span className="absolute h-7 w-3 -translate-x-1/2 -translate-y-1/2 rounded-full border border-black/40 bg-white" />
      <span
        data-testid="divider-knob"
        title="Turn the divider"
        onPointerDown={(event) => onGrab("turn", event)}
        className="pointer-events-auto absolute h-4 w-4 -translate-x-1/2 -translate-y-1/2 cursor-grab rounded-full border-2 border-white bg-ember shadow-[0_0_0_1px_rgba(0,0,0,.4)]"
        style={{ top: knob }}
      />
    </div>
  );
}

function Pane({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="relative isolate h-full overflow-hidden">
      {children}
      <Corner side="left">{label}</Corner>
    </div>
  );
}

function Corner({ side, children }: { side: "left" | "right"; children: string }) {
  return <span className={`pointer-events-none absolute top-2.5 max-w-[46%] truncate rounded bg-black/60 px-2 py-0.5 text-[13px] text-white ${side === "left" ? "left-3" : "right-3"}`}>{children}</span>;
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
