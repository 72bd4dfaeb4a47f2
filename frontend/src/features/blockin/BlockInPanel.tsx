import { ArrowDown, ArrowUp, Plus, Redo2, Trash2, Undo2, X } from "lucide-react";
import { useRef, useState, type PointerEvent } from "react";
import { useKeys } from "../../common/keys";
import { useElementSize } from "../../common/useElementSize";
import { useHistory } from "../../common/useHistory";
import { addArea, addPoint, AREA_TITLES, changeArea, emptyBlockIn, moveArea, movePoint, orderArea, removeArea, shapeOf, writeSvg, type AreaKind, type BlockIn } from "../../primitives/blockin";
import { Button, KeyCap } from "../../ui/Button";
import { Picker } from "../../ui/Picker";

interface Props {
  first?: BlockIn;
  busy: boolean;
  onFile: (file: File) => void;
  onClose: () => void;
}

const MARGIN = 36;
const FORMATS = [
  { value: "1152x768", title: "Landscape 3 : 2" },
  { value: "1024x1024", title: "Square" },
  { value: "819x1024", title: "Portrait 4 : 5" },
  { value: "1280x720", title: "Wide 16 : 9" },
];

/** A composition from a few coloured areas, when there is no picture: enough to place sky, land and masses. */
export function BlockInPanel({ first, busy, onFile, onClose }: Props) {
  const { now: block, change, undo, redo, canUndo, canRedo } = useHistory<BlockIn>(first ?? emptyBlockIn());
  const [picked, setPicked] = useState<number | null>(null);
  const area = block.areas.find((a) => a.id === picked);
  const act = (to: (b: BlockIn, id: number) => BlockIn) => picked !== null && change((b) => to(b, picked));
  const nudge = (dx: number, dy: number) => (event: KeyboardEvent) => act((b, id) => moveArea(b, id, dx * (event.shiftKey ? 5 : 1), dy * (event.shiftKey ? 5 : 1)));
  const save = () => onFile(new File([writeSvg(block)], "block-in.svg", { type: "image/svg+xml" }));
  const add = (kind: AreaKind) => {
    change((b) => addArea(b, kind));
    setPicked(Math.max(0, ...block.areas.map((a) => a.id)) + 1);
  };
  useKeys({
    Escape: () => (picked === null ? onClose() : setPicked(null)),
    Enter: save,
    "ctrl+z": undo,
    "ctrl+y": redo,
    Delete: () => act(removeArea),
    Backspace: () => act(removeArea),
    ArrowLeft: nudge(-0.01, 0),
    ArrowRight: nudge(0.01, 0),
    ArrowUp: nudge(0, -0.01),
    ArrowDown: nudge(0, 0.01),
    "+": () => act((b, id) => orderArea(b, id, 1)),
    "-": () => act((b, id) => orderArea(b, id, -1)),
  });
  return (
    <section aria-label="Block in" className="fixed inset-x-0 top-12 bottom-0 z-30 flex bg-mid text-white">
      <Canvas block={block} picked={picked} onPick={setPicked} onChange={change} />
      <div className="flex w-[290px] shrink-0 flex-col gap-2 overflow-y-auto bg-paper px-4 py-3 text-ink">
        <div className="flex items-center">
          <h2 className="m-0 flex-1 text-base font-semibold">Block in</h2>
          <button type="button" aria-label="Leave it" onClick={onClose} className="rounded p-1 text-faint hover:text-ink"><X size={17} /></button>
        </div>
        <p className="m-0 text-[13px] text-faint">A few coloured areas are a composition. Drag them, pull their corners; a look does the rest.</p>
        <Picker
          label="Shape of the canvas"
          value={`${block.width}x${block.height}`}
          options={FORMATS.map((f) => ({ ...f, detail: "" }))}
          onPick={(value) => {
            const [width, height] = value.split("x").map(Number);
            change((b) => ({ ...b, width: width!, height: height! }));
          }}
        />
        <div className="flex items-center gap-2">
          <span className="font-semibold">Ground</span>
          {(["top", "bottom"] as const).map((end, i) => (
            <label key={end} className="flex items-center gap-1 text-[13px] text-faint">
              {end}
              <input type="color" aria-label={`Ground at the ${end}`} value={block.ground[i]} onChange={(event) => change((b) => ({ ...b, ground: i === 0 ? [event.target.value, b.ground[1]] : [b.ground[0], event.target.value] }))} />
            </label>
          ))}
        </div>
        <div className="flex flex-wrap gap-1.5">
          {(Object.keys(AREA_TITLES) as AreaKind[]).map((kind) => (
            <Button key={kind} className="h-7 px-2" onClick={() => add(kind)}>
              <Plus size={13} /> {AREA_TITLES[kind]}
            </Button>
          ))}
        </div>
        <ul aria-label="Areas, the front one first" className="m-0 flex min-h-0 flex-1 flex-col gap-0.5 overflow-y-auto p-0">
          {[...block.areas].reverse().map((a) => (
            <li key={a.id} className={`flex h-8 list-none items-center gap-2 rounded px-1.5 ${a.id === picked ? "bg-glow" : ""}`}>
              <input type="color" aria-label={`Colour of ${AREA_TITLES[a.kind].toLowerCase()} ${a.id}`} value={a.colour} onChange={(event) => change((b) => changeArea(b, a.id, { colour: event.target.value }))} className="h-6 w-8" />
              <button type="button" aria-pressed={a.id === picked} onClick={() => setPicked(a.id === picked ? null : a.id)} className="min-w-0 flex-1 truncate text-left">
                {AREA_TITLES[a.kind]} {a.id}
              </button>
              {a.kind === "polygon" && <button type="button" aria-label={`A corner more for polygon ${a.id}`} title="A corner more" onClick={() => change((b) => addPoint(b, a.id))} className="rounded p-0.5 text-faint hover:text-amber"><Plus size={14} /></button>}
              <button type="button" aria-label={`Bring area ${a.id} forward`} title="Forward (+)" onClick={() => change((b) => orderArea(b, a.id, 1))} className="rounded p-0.5 text-faint hover:text-amber"><ArrowUp size={14} /></button>
              <button type="button" aria-label={`Send area ${a.id} back`} title="Back (-)" onClick={() => change((b) => orderArea(b, a.id, -1))} className="rounded p-0.5 text-faint hover:text-amber"><ArrowDown size={14} /></button>
              <button type="button" aria-label={`Delete area ${a.id}`} title="Delete (Del)" onClick={() => change((b) => removeArea(b, a.id))} className="rounded p-0.5 text-faint hover:text-fault"><Trash2 size={14} /></button>
            </li>
          ))}
        </ul>
        <p className="m-0 text-[13px] text-faint">{area ? "Arrows move it, Shift faster; + and \u2212 change its order; Delete removes it." : "Choose an area on the canvas or in the list."}</p>
        <div className="flex gap-2">
          <Button aria-label="Undo" title="Undo (Ctrl Z)" className="px-2" disabled={!canUndo} onClick={undo}><Undo2 size={16} /></Button>
          <Button aria-label="Redo" title="Redo (Ctrl Y)" className="px-2" disabled={!canRedo} onClick={redo}><Redo2 size={16} /></Button>
          <Button weight="main" className="flex-1" disabled={busy} onClick={save}>
            Use it <KeyCap>Enter</KeyCap>
          </Button>
        </div>
      </div>
    </section>
  );
}

interface CanvasProps {
  block: BlockIn;
  picked: number | null;
  onPick: (id: number | null) => void;
  onChange: (to: (block: BlockIn) => BlockIn) => void;
}

/** The areas as they will be, with corners to pull on the one that is picked. */
function Canvas({ block, picked, onPick, onChange }: CanvasProps) {
  const stage = useRef<HTMLDivElement>(null);
  const room = useElementSize(stage);
  const drag = useRef<{ id: number; point: number | null; x: number; y: number } | null>(null);
  const scale = Math.min((room.width - 2 * MARGIN) / block.width, (room.height - 2 * MARGIN) / block.height, 1.5);
  const view = { width: block.width * scale, height: block.height * scale };
  const area = block.areas.find((a) => a.id === picked);
  const grab = (event: PointerEvent, id: number, point: number | null) => {
    event.stopPropagation();
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    onPick(id);
    drag.current = { id, point, x: event.clientX, y: event.clientY };
  };
  const move = (event: PointerEvent) => {
    const now = drag.current;
    if (!now) return;
    if (now.point === null) {
      const [dx, dy] = [(event.clientX - now.x) / view.width, (event.clientY - now.y) / view.height];
      onChange((b) => moveArea(b, now.id, dx, dy));
    } else {
      const box = stage.current!.querySelector("svg")!.getBoundingClientRect();
      const { id, point } = now;
      onChange((b) => movePoint(b, id, point, (event.clientX - box.left) / view.width, (event.clientY - box.top) / view.height));
    }
    drag.current = { ...now, x: event.clientX, y: event.clientY };
  };
  const letGo = () => {
    drag.current = null;
  };
  return (
    <div ref={stage} className="flex min-w-0 flex-1 items-center justify-center" onPointerDown={() => onPick(null)}>
      {room.width > 0 && (
        <svg width={view.width} height={view.height} viewBox={`0 0 ${block.width} ${block.height}`} className="overflow-visible" data-testid="block-in" onPointerMove={move} onPointerUp={letGo} onPointerCancel={letGo}>
          <defs>
            <linearGradient id="ground" x1="0" y1="0" x2="0" y2="1">
              <stop offset="0" stopColor={block.ground[0]} />
              <stop offset="1" stopColor={block.ground[1]} />
            </linearGradient>
            <clipPath id="canvas"><rect width={block.width} height={block.height} /></clipPath>
          </defs>
          <rect width={block.width} height={block.height} fill="url(#ground)" />
          <g clipPath="url(#canvas)">
            {block.areas.map((a) => {
              const { name: Shape, attributes } = shapeOf(a, block.width, block.height);
              return <Shape key={a.id} {...attributes} fill={a.colour} data-area={a.id} className="cursor-move touch-none" onPointerDown={(event) => grab(event, a.id, null)} />;
            })}
          </g>
          {area?.points.map(([x, y], i) => (
            <circle key={i} cx={x * block.width} cy={y * block.height} r={8 / scale} data-point={i} className="cursor-grab touch-none" fill="#ffffff" stroke="#14323a" strokeWidth={2 / scale} onPointerDown={(event) => grab(event, area.id, i)} />
          ))}
        </svg>
      )}
    </div>
  );
}
