import { ArrowDown, ArrowUp, Eye, EyeOff, Lock, LockOpen } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { changed, type Layer, type Stack } from "../../primitives/stack";
import { drawOn, type Canvas } from "./canvas";
import { useHand } from "./store";

interface Props {
  stack: Stack;
  canvases: ReadonlyMap<string, Canvas>;
  onEdit: (change: (stack: Stack) => Stack) => void;
  onOrder: (by: number) => void;
}

const THUMB = 34;

/** The layers, highest first. */
export function LayerList({ stack, canvases, onEdit, onOrder }: Props) {
  const { picked, set } = useHand();
  const part = (id: string, to: Partial<Layer>) => onEdit((s) => changed(s, id, to));
  return (
    <section aria-label="Layers" className="flex min-h-[168px] flex-1 flex-col">
      <div className="flex items-center justify-between">
        <h2 className="m-0 text-[15px] font-semibold">Layers <span className="font-normal text-faint">{stack.layers.length}</span></h2>
        <span className="flex gap-1">
          <IconButton label="Layer up" title="Higher (Page up)" disabled={!picked} onClick={() => onOrder(1)}><ArrowUp size={15} /></IconButton>
          <IconButton label="Layer down" title="Lower (Page down)" disabled={!picked} onClick={() => onOrder(-1)}><ArrowDown size={15} /></IconButton>
        </span>
      </div>
      <ul role="listbox" aria-label="Layers, highest first" className="m-0 mt-1 flex min-h-0 flex-1 list-none flex-col gap-1 overflow-y-auto p-0">
        {stack.layers.toReversed().map((layer) => (
          <li key={layer.id} role="option" aria-selected={layer.id === picked} tabIndex={0} onClick={() => set({ picked: layer.id })} onKeyDown={(event) => event.key === "Enter" && event.target === event.currentTarget && set({ picked: layer.id })} className={`flex shrink-0 cursor-pointer items-center gap-2 rounded-md border px-1.5 py-1 ${layer.id === picked ? "border-amber bg-glow" : "border-transparent hover:border-rule"}`}>
            <Thumb canvas={canvases.get(layer.id)} />
            <Name name={layer.name} onName={(name) => part(layer.id, { name })} />
            {layer.opacity < 1 && <span className="text-xs text-faint tabular-nums">{Math.round(layer.opacity * 100)} %</span>}
            <IconButton label={`${layer.shown ? "Hide" : "Show"} ${layer.name}`} title={layer.shown ? "Hide" : "Show"} onClick={() => part(layer.id, { shown: !layer.shown })}>{layer.shown ? <Eye size={15} /> : <EyeOff size={15} />}</IconButton>
            <IconButton label={`${layer.locked ? "Unlock" : "Lock"} ${layer.name}`} title={layer.locked ? "Unlock" : "Lock"} onClick={() => part(layer.id, { locked: !layer.locked })}>{layer.locked ? <Lock size={14} /> : <LockOpen size={14} className="opacity-40" />}</IconButton>
          </li>
        ))}
      </ul>
    </section>
  );
}

function IconButton({ label, ...rest }: { label: string } & React.ButtonHTMLAttributes<HTMLButtonElement>) {
  return <button type="button" aria-label={label} {...rest} onClick={(event) => (event.stopPropagation(), rest.onClick?.(event))} className="rounded p-0.5 text-faint hover:text-ink disabled:opacity-30" />;
}

function Name({ name, onName }: { name: string; onName: (name: string) => void }) {
  const [draft, setDraft] = useState<string | null>(null);
  const keep = () => {
    const to = draft?.trim();
    if (to && to !== name) onName(to);
    setDraft(null);
  };
  if (draft === null) return <span className="min-w-0 flex-1 truncate text-[13px]" title="Double click to rename" onDoubleClick={() => setDraft(name)}>{name}</span>;
  return <input autoFocus aria-label="Name of the layer" value={draft} maxLength={120} onChange={(event) => setDraft(event.target.value)} onBlur={keep} onKeyDown={(event) => (event.key === "Enter" ? keep() : event.key === "Escape" && setDraft(null))} className="min-w-0 flex-1 rounded border border-amber bg-sheet px-1 text-[13px]" />;
}

function Thumb({ canvas }: { canvas: Canvas | undefined }) {
  const own = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (!own.current || !canvas) return;
    const draw = drawOn(own.current);
    const scale = Math.min(THUMB / canvas.width, THUMB / canvas.height);
    draw.clearRect(0, 0, THUMB, THUMB);
    draw.drawImage(canvas, (THUMB - canvas.width * scale) / 2, (THUMB - canvas.height * scale) / 2, canvas.width * scale, canvas.height * scale);
  }, [canvas]);
  return <canvas ref={own} width={THUMB} height={THUMB} aria-hidden className="shrink-0 rounded bg-mid" />;
}
