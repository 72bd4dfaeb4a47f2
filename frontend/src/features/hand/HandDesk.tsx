import { Redo2, Undo2 } from "lucide-react";
import { useEffect, useRef, useState, type DragEvent, type WheelEvent } from "react";
import { useNavigate } from "react-router";
import type { StudyView } from "../../api/client";
import { usePlace } from "../../study/place";
import { useKeys } from "../../common/keys";
import { SURROUND_CLASS, usePreferences } from "../../common/preferences";
import { useElementSize } from "../../common/useElementSize";
import { nextWidthPx } from "../../primitives/region";
import { centred, fitted, kept, zoomedAt, type View } from "../../primitives/view";
import { Button, KeyCap } from "../../ui/Button";
import { HandSide } from "./HandSide";
import { HandStage } from "./HandStage";
import { Library } from "./Library";
import { useHand } from "./store";
import { TOOL_KEYS, Tools } from "./Tools";
import { useActs } from "./useActs";
import { useCanvases } from "./useCanvases";
import { useStack, type StackHand } from "./useStack";
import { useTools } from "./useTools";
import type { Stack } from "../../primitives/stack";

const MARGIN = 24;
const MOST_FIT = 2;
const [SMALLEST, LARGEST] = [0.05, 16];
const ZOOM = 1.2;

/** One touched picture. */
export function HandDesk({ study, id }: { study: StudyView; id: string }) {
  const hand = useStack(id);
  if (hand.fault) return <p role="alert" className="p-8 text-fault">{hand.fault.message}</p>;
  if (!hand.stack) return <p className="p-8 text-faint">Opening the Hand…</p>;
  return <Opened study={study} hand={hand} stack={hand.stack} />;
}

function Opened({ study, hand, stack }: { study: StudyView; hand: StackHand; stack: Stack }) {
  const held = useHand();
  const surround = usePreferences((s) => s.surround);
  const navigate = useNavigate();
  const stage = useRef<HTMLDivElement>(null);
  const room = useElementSize(stage);
  const [own, setOwn] = useState<View | null>(null);
  const [space, setSpace] = useState(false);
  const { canvases, seen, showPainted, letGo } = useCanvases(stack);
  const view = own ?? fitted(stack, room, MARGIN, MOST_FIT);
  const tools = useTools({ hand, stack, canvases, view, showPainted, letGo });
  const source = usePlace((p) => study.sources.find((own) => own.id === p.source[study.id])) ?? study.sources.at(-1);
  const acts = useActs({ studyId: study.id, hand, stack, seen });
  const { set } = held;
  useEffect(() => () => set({ selection: null, picked: null, library: false, tool: "place" }), [set]);

  const zoom = (by: number, x = room.width / 2, y = room.height / 2) => setOwn(kept(zoomedAt(view, Math.min(Math.max(view.scale * by, SMALLEST), LARGEST), x, y), stack, room));
  const wheel = (event: WheelEvent) => {
    const box = event.currentTarget.getBoundingClientRect();
    zoom(event.deltaY < 0 ? ZOOM : 1 / ZOOM, event.clientX - box.left, event.clientY - box.top);
  };
  const back = () => void navigate(`/study/${study.id}`);
  const escape = () => (tools.giveUp() ? undefined : held.library ? set({ library: false }) : held.selection ? acts.clear() : held.picked ? set({ picked: null }) : back());
  const nudge = (dx: number, dy: number) => (event: KeyboardEvent) => acts.nudge(dx * (event.shiftKey ? 10 : 1), dy * (event.shiftKey ? 10 : 1));
  useKeys(
    {
      ...Object.fromEntries(TOOL_KEYS.map(([name, key]) => [key.toLowerCase(), () => set({ tool: name, before: held.tool })])),
      "ctrl+z": (event) => void hand.step(event.shiftKey ? 1 : -1),
      "ctrl+y": () => void hand.step(1),
      "[": () => set({ width: nextWidthPx(held.width, false) }),
      "]": () => set({ width: nextWidthPx(held.width, true) }),
      a: () => set({ library: !held.library }),
      d: () => (held.selection ? acts.copySelection() : acts.again()),
      f: acts.fill,
      j: (event) => acts.flip(event.shiftKey ? "down" : "across"),
      n: acts.invert,
      s: acts.selectLayer,
      b: (event) => acts.find(event.shiftKey ? "person" : "subject"),
      w: () => acts.maskBy(false),
      x: (event) => acts.cut(event.shiftKey ? "person" : "subject"),
      r: acts.restyle,
      Delete: () => acts.remove(),
      Backspace: () => acts.remove(),
      PageUp: () => acts.order(1),
      PageDown: () => acts.order(-1),
      ArrowLeft: nudge(-1, 0),
      ArrowRight: nudge(1, 0),
      ArrowUp: nudge(0, -1),
      ArrowDown: nudge(0, 1),
      "0": () => setOwn(null),
      "1": () => setOwn(centred(stack, room, 1)),
      "+": () => zoom(ZOOM),
      "=": () => zoom(ZOOM),
      "-": () => zoom(1 / ZOOM),
      " ": () => setSpace(true),
      Escape: escape,
    },
    { " ": () => setSpace(false) },
  );
  return (
    <div className="flex min-h-0 flex-1 flex-col" data-own-drop="Drop: laid in as a layer" onDragOver={(event: DragEvent) => event.preventDefault()} onDrop={(event: DragEvent) => acts.addFiles([...event.dataTransfer.files])}>
      <Head hand={hand} busy={acts.busy} scale={view.scale} onRestyle={acts.restyle} onDepth={acts.withDepth} region={held.selection !== null} />
      <div className="relative flex min-h-0 flex-1">
        <main aria-label="Picture" className={`relative min-w-0 flex-1 overflow-hidden ${SURROUND_CLASS[surround]}`}>
          <div ref={stage} data-shown={canvases.size} className="absolute inset-0" onWheel={wheel}>
            {room.width > 0 && <HandStage stack={stack} made={tools.made} canvases={canvases} room={room} view={view} stroke={tools.stroke} onEdit={hand.edit} />}
            {(held.tool !== "place" || space) && <Surface tools={tools} view={view} space={space} onPan={(dx, dy) => setOwn(kept({ ...view, x: view.x + dx, y: view.y + dy }, stack, room))} />}
          </div>
        </main>
        {held.library && <Library onClose={() => set({ library: false })} onPick={(thing) => acts.addThing(thing)} />}
        <HandSide hand={hand} stack={stack} canvases={canvases} acts={acts} source={source} />
      </div>
    </div>
  );
}

interface HeadProps {
  hand: StackHand;
  busy: string | null;
  scale: number;
  region: boolean;
  onRestyle: () => void;
  onDepth: () => void;
}

/** Tools, undo, and where it goes from here. */
function Head({ hand, busy, scale, region, onRestyle, onDepth }: HeadProps) {
  const state = busy ?? (hand.saving ? "Keeping…" : "Kept");
  return (
    <div className="flex h-11 shrink-0 items-center gap-2 border-b border-rule bg-paper px-2 text-ink">
      <Tools />
      <span className="mx-1 h-6 w-px bg-rule" />
      <button type="button" aria-label="Undo" title="Undo (Ctrl Z)" disabled={!hand.view?.before} onClick={() => void hand.step(-1)} className="rounded p-1 text-faint hover:text-ink disabled:opacity-30"><Undo2 size={17} /></button>
      <button type="button" aria-label="Redo" title="Redo (Ctrl Y)" disabled={!hand.view?.after} onClick={() => void hand.step(1)} className="rounded p-1 text-faint hover:text-ink disabled:opacity-30"><Redo2 size={17} /></button>
      <span role="status" className="min-w-[92px] truncate text-[13px] text-faint">{state}</span>
      <span className="ml-auto text-[13px] text-faint tabular-nums" title="Fit 0, whole size 1">{Math.round(scale * 100)} %</span>
      <Button className="h-7 px-2" disabled={busy !== null} onClick={onDepth} title="To the desk with a depth guide from the order of layers: the highest is nearest">With depth</Button>
      <Button weight="main" className="h-8" disabled={busy !== null} onClick={onRestyle} title={region ? "To the desk: only what is selected is restyled (R)" : "To the desk: the whole as a source (R)"}>
        {region ? "Restyle there" : "Restyle it"} <KeyCap>R</KeyCap>
      </Button>
    </div>
  );
}

interface SurfaceProps {
  tools: ReturnType<typeof useTools>;
  view: View;
  space: boolean;
  onPan: (dx: number, dy: number) => void;
}

/** What catches the pointer while a tool other than placing is in the hand; it shows the brush and the lasso's line. */
function Surface({ tools, view, space, onPan }: SurfaceProps) {
  const { tool, width } = useHand();
  const [at, setAt] = useState<{ x: number; y: number } | null>(null);
  const brush = tool === "paint" || tool === "erase" || tool === "mend";
  const shown = width * view.scale;
  return (
    <div
      aria-label="Painting surface"
      className={`absolute inset-0 touch-none overflow-hidden ${space ? "cursor-grab" : brush ? "cursor-none" : "cursor-crosshair"}`}
      onPointerDown={(event) => (space ? event.currentTarget.setPointerCapture(event.pointerId) : tools.down(event))}
      onPointerMove={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        setAt({ x: event.clientX - box.left, y: event.clientY - box.top });
        if (!space) tools.move(event);
        else if (event.buttons) onPan(event.movementX, event.movementY);
      }}
      onPointerUp={(event) => !space && tools.up(event)}
      onPointerLeave={() => setAt(null)}
    >
      {at && brush && !space && <span aria-hidden className="pointer-events-none absolute rounded-full border border-white shadow-[0_0_0_1px_#000]" style={{ width: shown, height: shown, left: at.x - shown / 2, top: at.y - shown / 2 }} />}
      {tools.line.length > 1 && (
        <svg aria-hidden className="pointer-events-none absolute inset-0 h-full w-full">
          <polyline points={tools.line.map((p) => `${p.x * view.scale + view.x},${p.y * view.scale + view.y}`).join(" ")} fill="none" stroke="#ffd68c" strokeWidth={1.5} />
        </svg>
      )}
    </div>
  );
}
