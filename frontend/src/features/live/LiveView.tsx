import { useRef } from "react";
import { sourceImage, type Recipe, type SourceView } from "../../api/client";
import { useChoices } from "../../api/queries";
import { useElementSize } from "../../common/useElementSize";
import { engineNamed, isOurs } from "../../primitives/engines";
import { liveFit } from "../../primitives/layout";
import { spoken, warningWords } from "../../primitives/reading";
import { Button, KeyCap } from "../../ui/Button";
import { Gauge } from "../../ui/Gauge";
import { Picker } from "../../ui/Picker";
import { infoOf } from "../../study/controls";
import type { Touched } from "../../study/touched";
import { HoldOverlay } from "../holds/HoldOverlay";
import { useLive } from "./useLive";

interface Props {
  source: SourceView;
  sources: SourceView[];
  onSource: (id: string) => void;
  recipe: Recipe;
  blinking: boolean;
  busy: boolean;
  onStrength: (value: number) => void;
  onRender: () => void;
  onClose?: () => void;
  onTouch: (what: Touched) => void;
}

const MARGIN = 20;
const BELOW = 126;
/** Narrower than this a picture's caption takes two lines. */
const NARROW = 360;
const LINE = 20;

const TOUCHES: { what: Touched; title: string; words: (source: SourceView) => string }[] = [
  { what: "frame", title: "Crop, turn, straighten, margin, ground (I)", words: () => "frame" },
  { what: "recolour", title: "Change the colours of its parts (Shift U)", words: () => "recolour" },
  { what: "region", title: "Paint where takes may change it (P)", words: (s) => (s.region_key ? "region" : "paint a region") },
  { what: "faces", title: "Mark faces by hand (H)", words: (s) => (s.faces_key ? "faces marked" : "faces") },
  { what: "subject", title: "See what the picture is about, paint it in or out, cut it out (Shift P)", words: (s) => (s.subject_key ? "subject mended" : "subject") },
  { what: "mix", title: "Mix two or three pictures into a new source (D)", words: () => "mix" },
];

/** Source and a draft of the take side by side; the draft follows every control at once. */
export function LiveView({ source, sources, onSource, recipe, blinking, busy, onStrength, onRender, onClose, onTouch }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const size = useElementSize(frame);
  const choices = useChoices().data;
  const kinds = choices?.readings ?? [];
  const ours = isOurs(recipe);
  const live = useLive(source.id, ours ? recipe : null);
  // What another engine makes is seen when it is run; a draft of ours would be a picture of something else.
  const shot = ours ? live.shot : null;
  const { fault, fresh } = ours ? live : { fault: `${(choices && engineNamed(choices, recipe.engine)?.title) ?? recipe.engine} draws no live drafts; Run shows what it makes.`, fresh: true };
  const aspect = source.framed_width / source.framed_height;
  const fitBelow = (below: number) => liveFit({ width: size.width - 2 * MARGIN, height: size.height - below }, aspect, 12);
  const narrow = fitBelow(BELOW).width < NARROW;
  const fit = narrow ? fitBelow(BELOW + LINE) : fitBelow(BELOW);
  const caption = narrow ? "h-12 flex-wrap content-end gap-x-2" : "h-7 items-center gap-2";
  const strength = infoOf("strength")!;
  const figures = shot?.figures;
  return (
    <div ref={frame} data-testid="live" className="flex min-h-0 flex-1 flex-col items-center justify-center gap-2 overflow-hidden">
      {size.width > 0 && (
        <>
          <div className={`flex gap-3 ${fit.stacked ? "flex-col" : ""}`}>
            <figure className="m-0">
              <figcaption className={`flex text-[13px] whitespace-nowrap ${caption}`} style={{ width: fit.width }}>
                source
                {TOUCHES.map(({ what, title, words }) => (
                  <button key={what} type="button" onClick={() => onTouch(what)} title={title} className="rounded px-0.5 underline decoration-dotted underline-offset-2 hover:text-lamp">
                    {words(source)}
                  </button>
                ))}
                {sources.length > 1 && (
                  <span className="ml-auto w-[220px] min-w-0 text-ink">
                    <Picker label="Source of the next takes" value={source.id} options={sources.map((s) => ({ value: s.id, title: s.name, detail: s.parents.length > 1 ? "mixed" : s.parents.length ? "carried on from a take" : "brought in" }))} onPick={onSource} />
                  </span>
                )}
              </figcaption>
              <div className="relative">
                <img src={sourceImage(source, recipe.size ?? 512)} alt={`Source ${source.name}`} width={fit.width} height={fit.height} className="block" draggable={false} />
                <HoldOverlay source={source} holds={recipe.holds} />
              </div>
            </figure>
            <figure className="m-0">
              <figcaption className={`flex justify-between text-[13px] ${caption}`} style={{ width: fit.width }}>
                <span>draft of the take{fresh ? "" : " \u2026"}</span>
                {figures && (
                  <span className="tabular-nums">
                    {spoken(figures.figures, kinds)}
                  </span>
                )}
              </figcaption>
              <div className="relative bg-black/15" style={{ width: fit.width, height: fit.height }}>
                {shot && <img src={shot.url} alt="Draft of the take" data-fresh={fresh} width={fit.width} height={fit.height} className="block" draggable={false} />}
                <img src={sourceImage(source, recipe.size ?? 512)} alt="" width={fit.width} height={fit.height} draggable={false} className={`absolute inset-0 ${blinking ? "" : "invisible"}`} />
                {!shot && <span className="absolute inset-0 flex items-center justify-center text-[13px]">{ours ? !fault && "the first draft takes a few seconds" : "no draft"}</span>}
              </div>
            </figure>
          </div>
          <div className="flex w-full max-w-[760px] items-end gap-4 rounded-lg bg-paper px-4 py-2 text-ink">
            <div className="min-w-0 flex-1">
              <Gauge {...strength} label="Strength of the draft" id="live-strength" value={recipe.strength ?? 0.5} span={null} onValue={onStrength} />
            </div>
            <Button weight="main" disabled={busy} onClick={onRender} title="One take in full, with what the draft shows (F)">
              Render this in full
            </Button>
            {onClose && (
              <Button onClick={onClose} title="Back to the sheet (L)">
                Sheet <KeyCap>L</KeyCap>
              </Button>
            )}
          </div>
          <p role="status" className="h-5 text-[13px]">
            {fault ?? figures?.warnings.map(warningWords).join(" ") ?? ""}
          </p>
        </>
      )}
    </div>
  );
}
