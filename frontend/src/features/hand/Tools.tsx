import { Brush, Copy, Droplet, Eraser, Hand, Lasso, WandSparkles, type LucideIcon } from "lucide-react";
import { KeyCap } from "../../ui/Button";
import { useHand, type Tool } from "./store";

export const TOOL_KEYS: [Tool, string, string, string, LucideIcon][] = [
  ["place", "T", "Place", "Move, scale and turn layers", Hand],
  ["paint", "P", "Paint", "Paint on a layer of its own", Brush],
  ["erase", "E", "Erase", "Erase from a layer, and give back; nothing is lost", Eraser],
  ["lasso", "L", "Lasso", "Draw round what you mean", Lasso],
  ["colour", "O", "By colour", "Select what has one colour", WandSparkles],
  ["sample", "C", "Take colour", "Take a colour from the picture", Droplet],
  ["mend", "M", "Mend", "Copy a part over another, in the tones around it", Copy],
];

/** The tools, each with its key. */
export function Tools() {
  const { tool, set } = useHand();
  return (
    <div role="radiogroup" aria-label="Tools" className="flex items-center gap-1">
      {TOOL_KEYS.map(([name, key, title, says, Icon]) => (
        <button key={name} type="button" role="radio" aria-checked={tool === name} title={`${says} (${key})`} onClick={() => set({ tool: name, before: tool })} className={`flex h-8 items-center gap-1.5 rounded-md border px-2 font-semibold whitespace-nowrap ${tool === name ? "border-amber bg-glow text-ink" : "border-transparent text-faint hover:border-rule hover:text-ink"}`}>
          <Icon size={15} /> {title} <KeyCap>{key}</KeyCap>
        </button>
      ))}
    </div>
  );
}
