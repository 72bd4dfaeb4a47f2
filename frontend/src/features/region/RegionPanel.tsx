import { useEffect, useRef, useState } from "react";
import { originalImage, regionImage, type SourceView } from "../../api/client";
import { useRegion } from "../../api/queries";
import { useKeys } from "../../common/keys";
import { sayFault } from "../../common/notices";
import { useElementSize } from "../../common/useElementSize";
import { useHistory } from "../../common/useHistory";
import { maskSize, nextWidth, painted, shownIn, WIDTHS, type Stroke } from "../../primitives/region";
import { BrushTools, ShareGauge } from "../../ui/BrushTools";
import { Button } from "../../ui/Button";
import { asOpacity, drawMask, maskFile, NOTHING, type Painting } from "../../ui/mask";
import { PaintStage } from "../../ui/PaintStage";

interface Props {
  studyId: string;
  source: SourceView;
  onClose: () => void;
}

const MARGIN = 24;
const PANEL = 300;
const SOFT_MOST = 0.06;

/** Paint where takes may change the picture; everywhere else not one bit of it does. */
export function RegionPanel({ studyId, source, onClose }: Props) {
  const { now, change, undo, redo, canUndo, canRedo } = useHistory<Painting>(source.region_key ? { ...NOTHING, base: "kept" } : NOTHING);
  const [erase, setErase] = useState(false);
  const [width, setWidth] = useState(0.08);
  const [soft, setSoft] = useState(0.012);
  const [share, setShare] = useState(0);
  const [kept, setKept] = useState<HTMLCanvasElement | null>(null);
  const mask = useRef<HTMLCanvasElement>(null);
  const stage = useRef<HTMLDivElement>(null);
  const room = useElementSize(stage);
  const keep = useRegion(studyId);
  const size = maskSize(source.width, source.height);
  const shown = shownIn(room, size, MARGIN);

  useEffect(() => {
    if (!source.region_key) return;
    const picture = new Image();
    picture.onload = () => setKept(asOpacity(picture));
    picture.src = regionImage(source);
  }, [source]);
  useEffect(() => {
    const canvas = mask.current;
    if (!canvas) return;
    drawMask(canvas, now, kept);
    setShare(painted(canvas.getContext("2d", { willReadFrequently: true })!.getImageData(0, 0, canvas.width, canvas.height).data));
  }, [now, kept, shown.width]);

  const done = { onSuccess: onClose, onError: sayFault };
  const save = () => {
    if (mask.current && share > 0) void maskFile(mask.current, soft).then((file) => keep.mutate({ sourceId: source.id, file }, done)).catch(sayFault);
  };
  const resize = (wider: boolean) => setWidth((w) => nextWidth(w, wider));
  useKeys({
    Escape: onClose, Enter: save, "ctrl+z": undo, "ctrl+y": redo, p: () => setErase(false), e: () => setErase(true),
    "[": () => resize(false), "]": () => resize(true),
  });

  const put = (next: Stroke, first: boolean) => change((c) => ({ ...c, steps: [...(first ? c.steps : c.steps.slice(0, -1)), next] }), first);

  return (
    <section aria-label="Region" className="flex min-h-0 flex-1">
      <div ref={stage} className="flex min-w-0 flex-1 items-center justify-center overflow-hidden">
        {room.width > 0 && (
          <PaintStage picture={originalImage(source)} name={`Source ${source.name}`} label="Region" shown={shown} size={size} mask={mask} version={`${share}${shown.width}`} dim={share > 0 ? 0.7 : 0} erase={erase} width={width} onWidth={setWidth} onStroke={put} />
        )}
      </div>
      <div className="flex shrink-0 flex-col gap-3 bg-paper px-4 py-3 text-ink" style={{ width: PANEL }}>
        <div>
          <h2 className="m-0 text-base font-semibold">Where takes may change it</h2>
          <p className="m-0 text-[13px] text-faint">Outside what you paint not one bit changes. Takes that exist stay as they are.</p>
        </div>
        <BrushTools erase={erase} titles={["Paint", "Take away"]} onErase={setErase} />
        <ShareGauge place="region" label="Brush width" value={width} min={WIDTHS[0]} max={WIDTHS[1]} onValue={setWidth} ends={["fine: [", "broad: ]"]} />
        <ShareGauge place="region" label="Soft edge" value={soft} min={0} max={SOFT_MOST} onValue={setSoft} ends={["sharp", "fades out gently"]} />
        <div className="flex flex-wrap gap-2">
          <Button onClick={() => change(() => ({ ...NOTHING, base: "all" }), true)}>All</Button>
          <Button onClick={() => change(() => NOTHING, true)}>Nothing</Button>
          <Button disabled={share === 0} onClick={() => change((c) => ({ ...c, steps: [...c.steps, "exchanged" as const] }), true)}>The rest instead</Button>
        </div>
        <p role="status" className="m-0 text-[13px]">{share > 0 ? `${Math.max(Math.round(share * 100), 1)} % of the picture may change.` : "Nothing is painted yet."}</p>
        <div className="mt-auto flex flex-wrap gap-2">
          <Button disabled={!canUndo} onClick={undo} title="Undo (Ctrl Z)">Undo</Button>
          <Button disabled={!canRedo} onClick={redo} title="Redo (Ctrl Y)">Redo</Button>
          <Button onClick={onClose}>Leave it</Button>
          {source.region_key && <Button disabled={keep.isPending} onClick={() => keep.mutate({ sourceId: source.id, file: null }, done)}>The whole picture again</Button>}
          <Button weight="main" disabled={keep.isPending || share === 0 || !canUndo} onClick={save}>Keep the region</Button>
        </div>
      </div>
    </section>
  );
}
