import { useEffect, useRef, useState } from "react";
import { originalImage, subjectImage, subjectStrokes, type SourceView } from "../../api/client";
import { useCutOut, useSubject } from "../../api/queries";
import { useKeys } from "../../common/keys";
import { sayFault } from "../../common/notices";
import { useElementSize } from "../../common/useElementSize";
import { useHistory } from "../../common/useHistory";
import { maskSize, nextWidth, painted, shownIn, WIDTHS, type Stroke } from "../../primitives/region";
import { BrushTools, ShareGauge } from "../../ui/BrushTools";
import { Button, KeyCap } from "../../ui/Button";
import { asOpacity, drawMask, saidFile } from "../../ui/mask";
import { PaintStage } from "../../ui/PaintStage";

interface Props {
  studyId: string;
  source: SourceView;
  onClose: () => void;
  /** The cut-out that was made, a source of its own. */
  onCut: (id: string) => void;
}

const MARGIN = 24;
const PANEL = 300;
const NONE: Stroke[] = [];

/** What the picture is about, as the program sees it; the hand paints into it and out of it. */
export function SubjectPanel({ studyId, source, onClose, onCut }: Props) {
  const { now, change, undo, redo, canUndo, canRedo } = useHistory<Stroke[]>(NONE);
  const [erase, setErase] = useState(false);
  const [width, setWidth] = useState(0.06);
  const [share, setShare] = useState<number | null>(null);
  const [found, setFound] = useState<HTMLCanvasElement | null>(null);
  const mask = useRef<HTMLCanvasElement>(null);
  const stage = useRef<HTMLDivElement>(null);
  const room = useElementSize(stage);
  const keep = useSubject(studyId);
  const cut = useCutOut(studyId);
  const size = maskSize(source.width, source.height);
  const shown = shownIn(room, size, MARGIN);

  useEffect(() => {
    const picture = new Image();
    picture.onload = () => setFound(asOpacity(picture));
    picture.onerror = () => sayFault(new Error("What the picture is about could not be read; open this again."));
    picture.src = subjectImage(source);
  }, [source]);
  useEffect(() => {
    const canvas = mask.current;
    if (!canvas || !found) return;
    drawMask(canvas, { base: "kept", steps: now }, found);
    setShare(painted(canvas.getContext("2d", { willReadFrequently: true })!.getImageData(0, 0, canvas.width, canvas.height).data));
  }, [now, found, shown.width]);

  const done = { onSuccess: onClose, onError: sayFault };
  const save = () => {
    if (!canUndo) return;
    const said = source.subject_key ? loaded(subjectStrokes(source)) : Promise.resolve(null);
    void said.then((kept) => saidFile(size, now, kept)).then((file) => keep.mutate({ sourceId: source.id, file }, done)).catch(sayFault);
  };
  const cutOut = () => !canUndo && !cut.isPending && cut.mutate(source.id, { onSuccess: (made) => onCut(made.id), onError: sayFault });
  const resize = (wider: boolean) => setWidth((w) => nextWidth(w, wider));
  useKeys({
    Escape: onClose, Enter: save, "ctrl+z": undo, "ctrl+y": redo, c: cutOut, p: () => setErase(false), e: () => setErase(true),
    "[": () => resize(false), "]": () => resize(true),
  });
  const put = (next: Stroke, first: boolean) => change((all) => [...(first ? all : all.slice(0, -1)), next], first);

  return (
    <section aria-label="Subject" className="flex min-h-0 flex-1">
      <div ref={stage} className="flex min-w-0 flex-1 items-center justify-center overflow-hidden">
        {room.width > 0 && (
          <PaintStage picture={originalImage(source)} name={`Source ${source.name}`} label="Subject" shown={shown} size={size} mask={mask} version={`${share}${shown.width}`} dim={0.75} erase={erase} width={width} onWidth={setWidth} onStroke={put} />
        )}
      </div>
      <div className="flex shrink-0 flex-col gap-3 bg-paper px-4 py-3 text-ink" style={{ width: PANEL }}>
        <div>
          <h2 className="m-0 text-base font-semibold">What the picture is about</h2>
          <p className="m-0 text-[13px] text-faint">Looks paint it with finer marks, and a hold keeps it while the ground is free. Takes that exist stay as they are.</p>
        </div>
        <BrushTools erase={erase} titles={["Paint in", "Paint out"]} onErase={setErase} />
        <ShareGauge place="subject" label="Brush width" value={width} min={WIDTHS[0]} max={WIDTHS[1]} onValue={setWidth} ends={["fine: [", "broad: ]"]} />
        <p role="status" className="m-0 text-[13px]">{said(share, Boolean(source.subject_key) || canUndo)}</p>
        <div>
          <Button disabled={canUndo || cut.isPending} onClick={cutOut} title={canUndo ? "Keep the subject first" : "A source of its own with soft edges, which stands before the places that words name (C)"}>
            {cut.isPending ? "Cutting…" : "Cut it out"} <KeyCap>C</KeyCap>
          </Button>
        </div>
        <div className="mt-auto flex flex-wrap gap-2">
          <Button disabled={!canUndo} onClick={undo} title="Undo (Ctrl Z)">Undo</Button>
          <Button disabled={!canRedo} onClick={redo} title="Redo (Ctrl Y)">Redo</Button>
          <Button onClick={onClose}>Leave it</Button>
          {source.subject_key && <Button disabled={keep.isPending} onClick={() => keep.mutate({ sourceId: source.id, file: null }, done)}>As it was found</Button>}
          <Button weight="main" disabled={keep.isPending || !canUndo} onClick={save}>Keep the subject</Button>
        </div>
      </div>
    </section>
  );
}

function said(share: number | null, mended: boolean): string {
  if (share === null) return "Looking at the picture…";
  const percent = Math.round(share * 100);
  if (percent === 0) return "No one thing stands out: paint it in, or leave the picture as a whole.";
  return `${percent} % of the picture, ${mended ? "mended by you" : "as found by the program"}.`;
}

function loaded(address: string): Promise<HTMLImageElement> {
  return new Promise((done, failed) => {
    const picture = new Image();
    picture.onload = () => done(picture);
    picture.onerror = () => failed(new Error("What was painted before could not be read; try again."));
    picture.src = address;
  });
}
