import { Undo2 } from "lucide-react";
import { useRef, useState } from "react";
import { sourceImage, type SourceView } from "../../api/client";
import { recolouredFraming, recolouredPreview, useColours, type PartView } from "../../api/insight";
import { useFraming } from "../../api/queries";
import { useKeys } from "../../common/keys";
import { sayFault } from "../../common/notices";
import { useHistory } from "../../common/useHistory";
import { useDebounced } from "../../common/useDebounced";
import { useElementSize } from "../../common/useElementSize";
import { liveFit } from "../../primitives/layout";
import { Button, KeyCap } from "../../ui/Button";

interface Props {
  studyId: string;
  source: SourceView;
  onClose: () => void;
}

const SIZE = 512;
const MARGIN = 24;
const PANEL = 300;

/** The parts of a picture by colour, each with a new one; the original stays as it came. */
export function RecolourPanel({ studyId, source, onClose }: Props) {
  const colours = useColours(source);
  if (colours.error) return <p role="alert" className="p-6">{colours.error.message}</p>;
  if (!colours.data) return <p className="p-6">Looking for its colours…</p>;
  return <Parts key={source.frame_key} found={colours.data} studyId={studyId} source={source} onClose={onClose} />;
}

function Parts({ found, studyId, source, onClose }: Props & { found: PartView[] }) {
  const { now: { parts, ground }, change, undo, canUndo } = useHistory({ parts: found, ground: source.framing.ground });
  const [before, setBefore] = useState(false);
  const stage = useRef<HTMLDivElement>(null);
  const room = useElementSize(stage);
  const keep = useFraming(studyId);
  const framing = { ...recolouredFraming(source.framing, parts), ground };
  const address = useDebounced(recolouredPreview(source, framing, SIZE), 120);
  const fit = liveFit({ width: room.width - 2 * MARGIN, height: room.height - 2 * MARGIN - 20 }, source.framed_width / source.framed_height, 12);
  const changed = parts.some((p, i) => p.now !== found[i]!.now) || ground !== source.framing.ground;

  const put = (colour: string, now: string) => change((c) => ({ ...c, parts: c.parts.map((p) => (p.colour === colour ? { ...p, now } : p)) }));
  const save = () => keep.mutate({ sourceId: source.id, framing }, { onSuccess: onClose, onError: sayFault });
  useKeys({ Escape: onClose, Enter: save, "ctrl+z": undo, b: () => setBefore(true) }, { b: () => setBefore(false) });

  return (
    <section aria-label="Recolour" className="flex min-h-0 flex-1">
      <div ref={stage} className="flex min-w-0 flex-1 items-center justify-center">
        {room.width > 0 && (
          <div className={`flex gap-3 ${fit.stacked ? "flex-col" : ""}`}>
            {[
              { name: "as it is", src: sourceImage(source, SIZE) },
              { name: before ? "before" : "in its new colours", src: before ? sourceImage(source, SIZE) : address },
            ].map(({ name, src }) => (
              <figure key={name === "as it is" ? name : "new"} className="m-0">
                <figcaption className="h-5 text-[13px]">{name}</figcaption>
                <img src={src} alt={name} width={fit.width} height={fit.height} className="block" draggable={false} />
              </figure>
            ))}
          </div>
        )}
      </div>
      <div className="flex shrink-0 flex-col bg-paper px-4 py-3 text-ink" style={{ width: PANEL }}>
        <h2 className="m-0 text-base font-semibold">Parts by colour</h2>
        <p className="m-0 text-[13px] text-faint">{source.format === "SVG" ? "As its fills and strokes are written." : "As its pixels gather."} Takes that exist keep the colours they were made with.</p>
        <ul className="mt-2 min-h-0 flex-1 overflow-y-auto">
          {parts.map((part) => (
            <li key={part.colour} className="flex h-9 items-center gap-2">
              <span className="h-6 w-6 rounded border border-rule" style={{ background: part.colour }} title={part.colour} />
              <span aria-hidden className="text-faint">→</span>
              <input type="color" aria-label={`New colour of ${part.colour}`} value={part.now} onChange={(event) => put(part.colour, event.target.value)} className="h-7 w-10" />
              <Hex label={`New colour of ${part.colour} as text`} value={part.now} onCommit={(now) => put(part.colour, now)} />
              <span className="ml-auto text-xs text-faint">{part.share >= 0.005 ? `${Math.round(part.share * 100)} %` : "under 1 %"}</span>
              {part.now !== part.colour && (
                <button type="button" aria-label={`Give ${part.colour} back`} title="As it came" onClick={() => put(part.colour, part.colour)} className="rounded p-0.5 text-faint hover:text-amber">
                  <Undo2 size={14} />
                </button>
              )}
            </li>
          ))}
          <li className="mt-1 flex h-9 items-center gap-2 border-t border-rule pt-1">
            <span className="font-semibold">Ground</span>
            <input
              type="color"
              aria-label="Ground"
              value={ground}
              onChange={(event) => change((c) => ({ ...c, ground: event.target.value }))}
              className="h-7 w-10"
            />
            <span className="text-xs text-faint">behind transparency and around the picture</span>
          </li>
        </ul>
        <div className="flex flex-wrap gap-2 pt-2">
          <Button disabled={!canUndo} onClick={undo} title="Undo (Ctrl Z)">Undo</Button>
          <Button onPointerDown={() => setBefore(true)} onPointerUp={() => setBefore(false)} onPointerLeave={() => setBefore(false)} title="While it is held (B)">
            Before <KeyCap>B</KeyCap>
          </Button>
          <Button onClick={onClose}>Leave it</Button>
          <Button weight="main" disabled={keep.isPending || !changed} onClick={save}>
            Keep the colours
          </Button>
        </div>
      </div>
    </section>
  );
}

function Hex({ label, value, onCommit }: { label: string; value: string; onCommit: (value: string) => void }) {
  const [draft, setDraft] = useState<string | null>(null);
  const commit = () => {
    const typed = draft?.trim().replace(/^#?/, "#").toLowerCase();
    if (typed && /^#[0-9a-f]{6}$/.test(typed)) onCommit(typed);
    setDraft(null);
  };
  return (
    <input
      aria-label={label}
      value={draft ?? value}
      maxLength={7}
      onChange={(event) => setDraft(event.target.value)}
      onBlur={commit}
      onKeyDown={(event) => {
        if (event.key === "Enter") {
          event.stopPropagation();
          commit();
        }
      }}
      className="h-7 w-[74px] rounded border border-rule bg-sheet px-1.5 text-[13px] focus:border-amber focus:outline-none"
    />
  );
}
