import { Brush, Eraser } from "lucide-react";
import { KeyCap } from "./Button";
import { Gauge } from "./Gauge";

interface Props {
  erase: boolean;
  titles: [string, string];
  onErase: (erase: boolean) => void;
}

/** What the brush does: put in or take away. */
export function BrushTools({ erase, titles, onErase }: Props) {
  return (
    <div role="radiogroup" aria-label="Brush" className="flex gap-2">
      {([[false, titles[0], "P", Brush], [true, titles[1], "E", Eraser]] as const).map(([value, title, cap, Icon]) => (
        <button key={title} type="button" role="radio" aria-checked={erase === value} onClick={() => onErase(value)} className={`flex h-8 items-center gap-1.5 rounded-md border px-2.5 font-semibold ${erase === value ? "border-amber bg-glow text-ink" : "border-rule bg-sheet text-faint"}`}>
          <Icon size={15} /> {title} <KeyCap>{cap}</KeyCap>
        </button>
      ))}
    </div>
  );
}

/** Of a gauge, in percent of the picture. */
const STEP = 0.1;

interface ShareProps {
  place: string;
  label: string;
  value: number;
  min: number;
  max: number;
  ends: [string, string];
  onValue: (value: number) => void;
}

/** A share of the picture's long side as a gauge in percent. */
export function ShareGauge({ place, label, value, min, max, ends, onValue }: ShareProps) {
  return (
    <Gauge id={`${place}-${label.toLowerCase().replace(" ", "-")}`} label={`${label}, %`} value={value * 100} span={null} min={min * 100} max={max * 100} step={STEP} digits={1} ends={ends} onValue={(percent) => onValue(percent / 100)} />
  );
}
