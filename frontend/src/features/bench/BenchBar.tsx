import { Button, KeyCap } from "../../ui/Button";
import { Picker } from "../../ui/Picker";
import type { Mode, Over } from "./Stage";

const MODES: { mode: Mode; title: string; key: string }[] = [
  { mode: "divider", title: "Divider", key: "D" },
  { mode: "pair", title: "Side by side", key: "P" },
  { mode: "alone", title: "Takes alone", key: "O" },
];
const OVERS: { over: Over; title: string; key: string; what: string }[] = [
  { over: "heat", title: "Heat", key: "H", what: "Where the composition gave way, the worst place boxed" },
  { over: "lines", title: "Lines", key: "I", what: "The source's lines over the take" },
  { over: "difference", title: "Difference", key: "U", what: "What is different, pixel by pixel: black where nothing is" },
];
const ZOOMS = [1, 2, 4];

interface Props {
  mode: Mode;
  onMode: (mode: Mode) => void;
  against: string;
  /** What takes can be compared with. */
  comparable: { value: string; title: string; detail: string }[];
  onAgainst: (id: string) => void;
  blinking: boolean;
  onBlink: (on: boolean) => void;
  over: Over;
  onOver: (over: Over) => void;
  /** Whether there is a heat map of this take. */
  heat: boolean;
  scale: number;
  onFit: () => void;
  onScale: (scale: number) => void;
}

/** Over the stage, one slim line: how pictures are compared, with what, what is laid over them, and how large they are. */
export function BenchBar({ mode, onMode, against, comparable, onAgainst, blinking, onBlink, over, onOver, heat, scale, onFit, onScale }: Props) {
  return (
    <div role="toolbar" aria-label="Bench" className="flex h-8 shrink-0 items-center gap-x-2 overflow-hidden px-3 text-[13px]">
      <div role="group" aria-label="Comparison" className="flex gap-1">
        {MODES.map((m) => (
          <Button key={m.mode} weight="over" aria-pressed={mode === m.mode} title={`${m.title} (${m.key})`} onClick={() => onMode(m.mode)}>
            {m.title} <KeyCap over>{m.key}</KeyCap>
          </Button>
        ))}
      </div>
      <div className="w-32 min-w-0" title="What takes are compared with (A: this take, and again the source)">
        <Picker over label="Compared with" value={against} options={comparable} onPick={onAgainst} />
      </div>
      <Button weight="over" aria-pressed={blinking} title="Hold to see what it is compared with (B)" onPointerDown={() => onBlink(true)} onPointerUp={() => onBlink(false)} onPointerLeave={() => onBlink(false)}>
        Blink <KeyCap over>B</KeyCap>
      </Button>
      <div role="group" aria-label="Laid over" className="flex gap-1">
        {OVERS.map((o) => (
          <Button key={o.title} weight="over" aria-pressed={over === o.over} disabled={o.over === "heat" && !heat} title={`${o.what} (${o.key})`} onClick={() => onOver(o.over)}>
            {o.title} <KeyCap over>{o.key}</KeyCap>
          </Button>
        ))}
      </div>
      <div role="group" aria-label="Zoom" className="ml-auto flex items-center gap-1">
        <span className="w-12 text-right font-semibold" data-testid="zoom">{Math.round(scale * 100)} %</span>
        <Button weight="over" title="Fit (0)" onClick={onFit}>Fit</Button>
        {ZOOMS.map((z) => (
          <Button key={z} weight="over" onClick={() => onScale(z)}>{z * 100}</Button>
        ))}
      </div>
    </div>
  );
}
