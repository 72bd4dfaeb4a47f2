import { Brush, Eraser } from "lucide-react";
import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { originalImage, regionImage, type SourceView } from "../../api/client";
import { useRegion } from "../../api/queries";
import { useKeys } from "../../common/keys";
import { sayFault } from "../../common/notices";
import { useElementSize } from "../../common/useElementSize";
import { useHistory } from "../../common/useHistory";
import { maskSize, nextWidth, painted, shownIn, stepped, WIDTHS, type Stroke } from "../../primitives/region";
import { Button, KeyCap } from "../../ui/Button";
import { Gauge } from "../../ui/Gauge";
import { asOpacity, drawMask, maskFile, NOTHING, type Painting } from "./drawMask";

interface Props {
  studyId: string;
  source: SourceView;
  onClose: () => void;
}

const MARGIN = 24;
const PANEL = 300;
const SOFT_MOST = 0.06;
/** Of a gauge, in percent of the picture. */
const STEP = 0.1;

/** Paint where takes may change the picture; everywhere else not one bit of it does. */
export function RegionPanel({ studyId, source, onClose }: Props) {
  const { now, change, undo, redo, canUndo, canRedo } = useHistory<Painting>(source.region_key ? { ...NOTHING, base: "kept" } : NOTHING);
  const [erase, setErase] = useState(false);
  const [width, setWidth] = useState(0.08);
  const [soft, setSoft] = useState(0.012);
  const [share, setShare] = useState(0);
  const [kept, setKept] = useState<HTMLCanvasElement | null>(null);
  const [at, setAt] = useState<{ x: number; y: number } | null>(null);
  const stroke = useRef<Stroke | null>(null);
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

  const pointOf = (event: PointerEvent) => {
    const box = event.currentTarget.getBoundingClientRect();
    return { x: (event.clientX - box.left) / box.width, y: (event.clientY - box.top) / box.height };
  };
  const put = (next: Stroke, first: boolean) => change((c) => ({ ...c, steps: [...(first ? c.steps : c.steps.slice(0, -1)), next] }), first);
  const begin = (event: PointerEvent) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    stroke.current = { erase: erase || event.altKey, width, points: [pointOf(event)] };
    put(stroke.current, true);
  };
  const move = (event: PointerEvent) => {
    setAt(pointOf(event));
    if (!stroke.current) return;
    stroke.current = { ...stroke.current, points: [...stroke.current.points, pointOf(event)] };
    put(stroke.current, false);
  };
  const key = (event: KeyboardEvent) => {
    const here = at ?? { x: 0.5, y: 0.5 };
    const next = stepped(here, event.key, event.shiftKey);
    if (!next && event.key !== " ") return;
    event.preventDefault();
    event.stopPropagation();
    if (next) setAt(next);
    else put({ erase, width, points: [here] }, true);
  };
  const brush = width * Math.max(shown.width, shown.height);

  return (
    <section aria-label="Region" className="flex min-h-0 flex-1">
      <div ref={stage} className="flex min-w-0 flex-1 items-center justify-center overflow-hidden">
        {room.width > 0 && (
          <div className="relative" style={shown}>
            <img src={originalImage(source)} alt={`Source ${source.name}`} {...shown} className="block" draggable={false} />
            {/* What takes leave alone is dimmed, so that what may change is seen as it is. */}
            <div aria-hidden className="pointer-events-none absolute inset-0 bg-[#333]" style={{ opacity: share > 0 ? 0.7 : 0 }} />
            <canvas ref={mask} {...size} hidden />
            <Through mask={mask} picture={originalImage(source)} shown={shown} size={size} version={`${share}${shown.width}`} />
            <div
              role="application"
              aria-label="Region: arrows move the brush, Space paints"
              tabIndex={0}
              className="absolute inset-0 cursor-none touch-none overflow-hidden"
              onPointerDown={begin}
              onPointerMove={move}
              onPointerUp={() => (stroke.current = null)}
              onPointerLeave={() => setAt(null)}
              onWheel={(event) => resize(event.deltaY < 0)}
              onKeyDown={key}
            >
              {at && <span aria-hidden className={`pointer-events-none absolute rounded-full border-2 ${erase ? "border-dashed" : ""} border-white shadow-[0_0_0_1px_#000]`} style={{ width: brush, height: brush, left: at.x * shown.width - brush / 2, top: at.y * shown.height - brush / 2 }} />}
            </div>
          </div>
        )}
      </div>
      <div className="flex shrink-0 flex-col gap-3 bg-paper px-4 py-3 text-ink" style={{ width: PANEL }}>
        <div>
          <h2 className="m-0 text-base font-semibold">Where takes may change it</h2>
          <p className="m-0 text-[13px] text-faint">Outside what you paint not one bit changes. Takes that exist stay as they are.</p>
        </div>
        <div role="radiogroup" aria-label="Brush" className="flex gap-2">
          {([[false, "Paint", "P", Brush], [true, "Take away", "E", Eraser]] as const).map(([value, title, cap, Icon]) => (
            <button key={title} type="button" role="radio" aria-checked={erase === value} onClick={() => setErase(value)} className={`flex h-8 items-center gap-1.5 rounded-md border px-2.5 font-semibold ${erase === value ? "border-amber bg-glow text-ink" : "border-rule bg-sheet text-faint"}`}>
              <Icon size={15} /> {title} <KeyCap>{cap}</KeyCap>
            </button>
          ))}
        </div>
        <Share label="Brush width" value={width} min={WIDTHS[0]} max={WIDTHS[1]} onValue={setWidth} ends={["fine: [", "broad: ]"]} />
        <Share label="Soft edge" value={soft} min={0} max={SOFT_MOST} onValue={setSoft} ends={["sharp", "fades out gently"]} />
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

/** The picture again where the mask is painted, over its dimmed self. */
function Through({ mask, picture, shown, size, version }: { mask: React.RefObject<HTMLCanvasElement | null>; picture: string; shown: { width: number; height: number }; size: { width: number; height: number }; version: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [image, setImage] = useState<HTMLImageElement | null>(null);
  useEffect(() => {
    const loaded = new Image();
    loaded.onload = () => setImage(loaded);
    loaded.src = picture;
  }, [picture]);
  useEffect(() => {
    const draw = canvas.current?.getContext("2d");
    if (!draw || !mask.current) return;
    draw.globalCompositeOperation = "source-over";
    draw.clearRect(0, 0, size.width, size.height);
    draw.drawImage(mask.current, 0, 0);
    draw.globalCompositeOperation = "source-in";
    if (image) draw.drawImage(image, 0, 0, size.width, size.height);
  }, [version, image, mask, size.width, size.height]);
  return <canvas ref={canvas} {...size} aria-hidden className="pointer-events-none absolute inset-0" style={shown} />;
}

/** A share of the picture's long side as a gauge in percent. */
function Share({ label, value, min, max, ends, onValue }: { label: string; value: number; min: number; max: number; ends: [string, string]; onValue: (value: number) => void }) {
  return (
    <Gauge id={`region-${label.toLowerCase().replace(" ", "-")}`} label={`${label}, %`} value={value * 100} span={null} min={min * 100} max={max * 100} step={STEP} digits={1} ends={ends} onValue={(percent) => onValue(percent / 100)} />
  );
}
