import { X } from "lucide-react";
import { takeImage } from "../../api/client";
import type { Hung } from "../../api/wall";
import { Button } from "../../ui/Button";

interface Props {
  first: Hung;
  second: Hung;
  labels: [string, string];
  /** Which of them is shown. */
  other: boolean;
  onOther: (on: boolean) => void;
  onClose: () => void;
}

/** Two pictures in the same place, one after the other: what is different jumps. */
export function Blink({ first, second, labels, other, onOther, onClose }: Props) {
  const shown = (hung: Hung, seen: boolean) => (
    <img src={takeImage(hung.take.id)} alt={seen ? "shown" : ""} draggable={false} className={`absolute inset-0 h-full w-full object-contain ${seen ? "" : "invisible"}`} />
  );
  return (
    <div className="absolute inset-0 z-20 flex flex-col bg-inherit" role="dialog" aria-label="Blink">
      <div className="flex h-9 items-center gap-3 px-3">
        <span aria-live="polite" className="font-semibold">{labels[other ? 1 : 0]}</span>
        <Button weight="over" onPointerDown={() => onOther(true)} onPointerUp={() => onOther(false)} onPointerLeave={() => onOther(false)}>Hold for the other (B)</Button>
        <button type="button" aria-label="Close" title="Close (Esc)" onClick={onClose} className="ml-auto rounded p-1 hover:bg-white/20"><X size={17} /></button>
      </div>
      <div className="relative min-h-0 flex-1">
        {shown(first, !other)}
        {shown(second, other)}
      </div>
    </div>
  );
}
