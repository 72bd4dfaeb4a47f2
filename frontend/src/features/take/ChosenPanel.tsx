import { Blend, Columns2, Expand, Sparkles, X } from "lucide-react";
import type { MarkValue, MarkView, TakeView } from "../../api/client";
import { takePreview } from "../../api/client";
import { Button, KeyCap } from "../../ui/Button";
import { MarkDot } from "../../study/MarkDot";
import { MARKS } from "../../study/marks";

interface Props {
  takes: TakeView[];
  marks: Map<string, MarkView>;
  onMark: (value: MarkValue) => void;
  onBench: () => void;
  onFinish: () => void;
  onMix: () => void;
  onFiles: () => void;
  onClear: () => void;
}

const MOST_BESIDE = 4;
const MOST_MIXED = 3;

/** Several takes chosen together. */
export function ChosenPanel({ takes, marks, onMark, onBench, onFinish, onMix, onFiles, onClear }: Props) {
  const done = takes.filter((t) => t.state === "done");
  const drafts = done.filter((t) => t.recipe.quality === "draft").length;
  return (
    <>
      <h2 className="text-[15px] leading-5 font-semibold">{takes.length} takes chosen</h2>
      <div role="group" aria-label="Mark them" className="grid grid-cols-3 gap-1.5">
        {MARKS.map(({ value, title }) => (
          <button key={value} type="button" disabled={!done.length} aria-pressed={done.length > 0 && done.every((t) => marks.get(t.id)?.value === value)} onClick={() => onMark(value)} className="flex h-8 items-center justify-center gap-1.5 rounded-md border border-rule bg-sheet font-semibold hover:border-faint aria-pressed:border-amber aria-pressed:bg-glow">
            <MarkDot value={value} decorative /> {title}
          </button>
        ))}
      </div>
      <div className="flex flex-col gap-1.5">
        <Button spread disabled={!done.length} title="Beside each other under one zoom, with the source" onClick={onBench}>
          <span className="flex items-center gap-1.5"><Columns2 size={15} /> {done.length > MOST_BESIDE ? `First ${MOST_BESIDE} on the bench` : "On the bench"}</span>
          <KeyCap>Enter</KeyCap>
        </Button>
        {drafts > 0 && (
          <Button spread weight="main" title="The takes that these drafts foretell" onClick={onFinish}>
            <span className="flex items-center gap-1.5"><Sparkles size={15} /> Finish {drafts === 1 ? "the draft" : `${drafts} drafts`} in full</span>
          </Button>
        )}
        {done.length > 1 && done.length <= MOST_MIXED && (
          <Button spread title="One picture of them: layout of the heaviest, detail of each" onClick={onMix}>
            <span className="flex items-center gap-1.5"><Blend size={15} /> Mix into a new source</span>
            <KeyCap>D</KeyCap>
          </Button>
        )}
        <Button spread disabled={!done.length} title="All of them larger, traced to curves, as files in a ZIP" onClick={onFiles}>
          <span className="flex items-center gap-1.5"><Expand size={15} /> Larger, traced, files</span>
          <KeyCap>Shift S</KeyCap>
        </Button>
        <Button spread onClick={onClear}>
          <span className="flex items-center gap-1.5"><X size={15} /> Choose none</span>
          <KeyCap>Esc</KeyCap>
        </Button>
      </div>
      <div className="grid grid-cols-3 gap-1">
        {done.slice(0, 30).map((t) => (
          <img key={t.id} src={takePreview(t.id)} alt="" className="w-full rounded-sm" />
        ))}
      </div>
    </>
  );
}
