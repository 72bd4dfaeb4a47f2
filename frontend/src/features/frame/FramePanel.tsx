import { FlipHorizontal2, Redo2, RotateCw, Undo2 } from "lucide-react";
import { useEffect, useMemo, useState } from "react";
import { originalImage, type Framing, type SourceView } from "../../api/client";
import { useFraming } from "../../api/queries";
import { useKeys } from "../../common/keys";
import { sayFault } from "../../common/notices";
import { useHistory } from "../../common/useHistory";
import { keptShare, levelCrop, shapedCrop, type Crop } from "../../primitives/crop";
import { placed, stretchWords, turnedSize } from "../../primitives/framing";
import { Button, KeyCap } from "../../ui/Button";
import { Gauge } from "../../ui/Gauge";
import { NumberField } from "../../ui/NumberField";
import { Picker } from "../../ui/Picker";
import { AS_IT_CAME, FITS, LONG_SIDES, RESAMPLINGS, SHAPES, type Fit } from "./choices";
import { CropStage } from "./CropStage";
import { ResamplingStrip } from "./ResamplingStrip";
import { Result } from "./Result";

interface Props {
  studyId: string;
  source: SourceView;
  size: number;
  onSize: (size: number) => void;
  onClose: () => void;
}

const WHOLE: Crop = { left: 0, top: 0, right: 1, bottom: 1 };

/** Crop, fit, turn, straighten, place on a ground, size, with what is lost in sight; the original stays as it came. */
export function FramePanel({ studyId, source, size, onSize, onClose }: Props) {
  const { now: framing, change: put, undo, redo, canUndo, canRedo } = useHistory<Framing>(source.framing);
  const change = (part: Partial<Framing>) => put((f) => ({ ...f, ...part }));
  const [ratio, setRatio] = useState<{ wide: number; tall: number } | null>(framing.shape ? { wide: framing.shape, tall: 1 } : null);
  const [fit, setFit] = useState<Fit>(framing.shape ? (framing.fit ?? "pad") : "crop");
  const [comparing, setComparing] = useState(false);
  const [image, setImage] = useState<HTMLImageElement | null>(null);
  const keep = useFraming(studyId);
  const original = useMemo(() => ({ width: source.width, height: source.height }), [source.width, source.height]);
  const turned = turnedSize(original, framing);
  const out = placed(original, framing, size);
  const crop: Crop = { left: framing.left ?? 0, top: framing.top ?? 0, right: framing.right ?? 1, bottom: framing.bottom ?? 1 };
  const shape = ratio ? ratio.wide / ratio.tall : null;
  // A shape in pixels as a shape in shares of this picture.
  const locked = shape === null || fit !== "crop" ? null : (shape * turned.height) / turned.width;

  useEffect(() => {
    const loaded = new Image();
    loaded.onload = () => setImage(loaded);
    loaded.src = originalImage(source);
  }, [source]);

  const shapeTo = (next: typeof ratio, how: Fit) => {
    setRatio(next);
    setFit(how);
    const wanted = next ? next.wide / next.tall : null;
    if (wanted === null) change({ shape: null });
    else if (how === "crop") change({ shape: null, ...shapedCrop(WHOLE, (wanted * turned.height) / turned.width) });
    // A crop that only made the shape is not wanted any more.
    else change({ shape: Math.round(wanted * 10000) / 10000, fit: how, ...(fit === "crop" && ratio ? WHOLE : {}) });
  };
  // Levelling takes the blank corners away; the artist can pull the box out again.
  const level = (straighten: number) => {
    const inside = levelCrop(turned, straighten);
    change({ straighten, ...(locked === null ? inside : shapedCrop(inside, locked)) });
  };
  const turn = () => change({ turn: (((framing.turn ?? 0) + 90) % 360) as Framing["turn"], ...WHOLE });
  const save = () => keep.mutate({ sourceId: source.id, framing }, { onSuccess: onClose, onError: sayFault });
  useKeys({ Escape: onClose, Enter: save, "ctrl+z": undo, "ctrl+y": redo });

  const lost = Math.round((1 - keptShare(crop)) * 100);
  const words = [
    `${out.width} \u00d7 ${out.height} pixels for the engine; keeps ${100 - lost} % of the picture.`,
    fit === "stretch" && stretchWords(out.stretched) && `Stretched: ${stretchWords(out.stretched)}.`,
    "Takes that exist keep the frame they were made with.",
  ];
  return (
    <section aria-label="Frame" className="flex min-h-0 flex-1 flex-col">
      <div className="flex min-h-0 flex-1">
        <CropStage image={image} framing={framing} crop={crop} turned={turned} locked={locked} onCrop={change} />
        <Result image={image} framing={framing} original={original} size={size} placed={out} onShift={change} />
      </div>
      {comparing && <ResamplingStrip source={source} framing={framing} size={size} shape={out} onPick={(resampling) => change({ resampling })} />}
      <div className="relative z-10 bg-paper px-4 py-2 text-ink">
        <div className="grid grid-cols-[224px_150px_1fr_1fr_1fr] items-end gap-x-4">
          <Field label="Shape">
            <div className="flex items-center gap-1">
              <Picker
                label="Shape"
                value={SHAPES.find((s) => (s.shape === null ? ratio === null : shape !== null && Math.abs(s.shape - shape) < 0.002))?.value ?? "typed"}
                options={[...SHAPES.map((s) => ({ value: s.value, title: s.title, detail: "" })), ...(ratio ? [{ value: "typed", title: "As typed", detail: "" }] : [])]}
                onPick={(value) => {
                  const [wide, tall] = value.split(":").map(Number);
                  if (value === "free") shapeTo(null, "crop");
                  else if (wide && tall) shapeTo({ wide, tall }, fit);
                }}
              />
              <NumberField label="Shape, width" value={ratio?.wide ?? out.width} digits={ratio && ratio.wide % 1 ? 2 : 0} width="w-10" onCommit={(wide) => wide > 0 && shapeTo({ wide, tall: ratio?.tall ?? out.height }, fit)} />
              <span className="text-faint">:</span>
              <NumberField label="Shape, height" value={ratio?.tall ?? out.height} digits={ratio && ratio.tall % 1 ? 2 : 0} width="w-10" onCommit={(tall) => tall > 0 && shapeTo({ wide: ratio?.wide ?? out.width, tall }, fit)} />
            </div>
          </Field>
          <Field label="Fit">
            <Picker label="Fit" value={fit} options={FITS} onPick={(value) => shapeTo(ratio ?? { wide: 1, tall: 1 }, value as Fit)} />
          </Field>
          <Gauge id="frame-straighten" label="Straighten" value={framing.straighten ?? 0} span={null} min={-20} max={20} step={0.5} digits={1} onValue={level} />
          <Gauge id="frame-margin" label="Margin" value={framing.margin ?? 0} span={null} min={0} max={0.5} step={0.01} digits={2} onValue={(margin) => change({ margin })} />
          <Gauge id="frame-scale" label="Size on its ground" value={framing.scale ?? 1} span={null} min={0.1} max={3} step={0.05} digits={2} onValue={(scale) => change({ scale })} />
        </div>
        <div className="mt-1.5 flex items-center gap-2">
          <span className="font-semibold">Long side</span>
          <span className="w-[88px]">
            <Picker label="Long side" value={String(size)} options={[...new Set([...LONG_SIDES, size])].sort((a, b) => a - b).map((s) => ({ value: String(s), title: String(s), detail: "" }))} onPick={(value) => onSize(Number(value))} />
          </span>
          <span className="pl-2 font-semibold">Resampling</span>
          <span className="w-[124px]">
            <Picker label="Resampling" value={framing.resampling ?? "auto"} options={RESAMPLINGS} onPick={(value) => change({ resampling: value as Framing["resampling"] })} />
          </span>
          <button type="button" aria-pressed={comparing} onClick={() => setComparing(!comparing)} className="rounded px-1 text-[13px] text-amber underline-offset-2 hover:underline">
            {comparing ? "close" : "side by side"}
          </button>
          <Button title="Turn to the right" aria-label="Turn to the right" className="ml-auto px-2" onClick={turn}>
            <RotateCw size={16} />
          </Button>
          <Button title="Flip left and right" aria-label="Flip left and right" aria-pressed={framing.flip} className="px-2" onClick={() => change({ flip: !framing.flip, left: 1 - crop.right, right: 1 - crop.left })}>
            <FlipHorizontal2 size={16} />
          </Button>
          <label className="flex items-center gap-1.5 pl-1 text-[13px]" title="Behind transparency, around the picture, at turned corners">
            Ground
            <input type="color" aria-label="Ground" value={framing.ground ?? "#ffffff"} onChange={(event) => change({ ground: event.target.value })} />
          </label>
          <Button aria-label="Undo" title="Undo (Ctrl Z)" className="px-2" disabled={!canUndo} onClick={undo}><Undo2 size={16} /></Button>
          <Button aria-label="Redo" title="Redo (Ctrl Y)" className="px-2" disabled={!canRedo} onClick={redo}><Redo2 size={16} /></Button>
        </div>
        <div className="mt-1.5 flex items-center gap-2">
          <p className="m-0 flex-1 text-[13px] text-faint" data-testid="frame-words">{words.filter(Boolean).join(" ")}</p>
          <Button
            onClick={() => {
              change({ ...AS_IT_CAME, ground: framing.ground, recolour: framing.recolour });
              setRatio(null);
              setFit("crop");
            }}
          >
            As it came
          </Button>
          <Button weight="main" disabled={keep.isPending} onClick={save}>
            Keep the frame <KeyCap>Enter</KeyCap>
          </Button>
        </div>
      </div>
    </section>
  );
}

function Field({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div className="min-w-0">
      <span className="block h-6 font-semibold">{label}</span>
      {children}
    </div>
  );
}
