import { useRef, useState } from "react";
import { sourceImage, takePreview, type SourceView, type TakeView } from "../../api/client";
import { useAddSource } from "../../api/insight";
import { useCarryOn } from "../../api/queries";
import { useKeys } from "../../common/keys";
import { sayFault } from "../../common/notices";
import { useElementSize } from "../../common/useElementSize";
import { mixRequest, shareOf, toggled, weighed, type Part } from "../../primitives/mix";
import { Button } from "../../ui/Button";
import { Gauge } from "../../ui/Gauge";
import { useMixed } from "./useMixed";

interface Props {
  studyId: string;
  sources: SourceView[];
  /** Takes that were chosen for it. */
  takes: TakeView[];
  source: SourceView;
  onMade: (sourceId: string) => void;
  onClose: () => void;
}

const MARGIN = 24;
const PANEL = 320;

/** Two or three pictures as one new source: layout of the heaviest, detail of each. */
export function MixPanel({ studyId, sources, takes, source, onMade, onClose }: Props) {
  const [parts, setParts] = useState<Part[]>(() => firstParts(sources, takes, source));
  const stage = useRef<HTMLDivElement>(null);
  const room = useElementSize(stage);
  const make = useCarryOn(studyId);
  const add = useAddSource();
  const file = useRef<HTMLInputElement>(null);
  const request = mixRequest(parts);
  const { url, fault, fresh } = useMixed(studyId, request);
  const save = () => request && make.mutate(request, { onSuccess: (made) => onMade(made.id), onError: sayFault });
  useKeys({ Escape: onClose, Enter: save });
  // Sources come before takes, as the server counts them.
  const first = parts.find((part) => part.kind === "source") ?? parts[0];
  const shapes = new Map([...sources.map((s) => [s.id, s.framed_width / s.framed_height] as const), ...takes.map((t) => [t.id, t.width / t.height] as const)]);
  const aspect = shapes.get(first?.id ?? "") ?? 1.5;
  const width = Math.round(Math.min(room.width - 2 * MARGIN, (room.height - 2 * MARGIN - 20) * aspect));
  const candidates = [
    ...sources.map((s) => ({ id: s.id, kind: "source" as const, name: s.name, src: sourceImage(s, 256) })),
    ...takes.map((t) => ({ id: t.id, kind: "take" as const, name: `take, strength ${(t.recipe.strength ?? 0).toFixed(2)}, seed ${t.recipe.seed}`, src: takePreview(t.id) })),
  ];
  return (
    <section aria-label="Mix" className="flex min-h-0 flex-1">
      <div ref={stage} className="flex min-w-0 flex-1 flex-col items-center justify-center overflow-hidden">
        {room.width > 0 && request && !fault && (
          <figure className="m-0">
            <figcaption className="h-5 text-[13px]">mixed{fresh ? "" : " \u2026"}</figcaption>
            {url && <img src={url} alt="The pictures mixed" data-fresh={fresh} width={width} height={Math.round(width / aspect)} className="block" draggable={false} />}
          </figure>
        )}
        {fault && <p role="alert" className="max-w-sm text-center">{fault}</p>}
        {!request && <p className="max-w-sm text-center">{parts.length < 2 ? "Choose two or three pictures to mix." : "Give at least two of them some weight."}</p>}
      </div>
      <div className="flex shrink-0 flex-col gap-3 bg-paper px-4 py-3 text-ink" style={{ width: PANEL }}>
        <div>
          <h2 className="m-0 text-base font-semibold">Mix into a new source</h2>
          <p className="m-0 text-[13px] text-faint">The heaviest gives the layout, each gives detail where it has most. The first one gives shape and size; the others are cropped to it.</p>
        </div>
        <ul className="m-0 flex min-h-0 flex-1 list-none flex-col gap-1.5 overflow-y-auto p-0">
          {candidates.map(({ id, kind, name, src }) => {
            const part = parts.find((p) => p.id === id);
            return (
              <li key={id} className={`flex items-center gap-2.5 rounded-md border p-1.5 ${part ? "border-amber bg-sheet" : "border-rule"}`}>
                <input type="checkbox" aria-label={`Mix in ${name}`} checked={part !== undefined} disabled={!part && parts.length === 3} onChange={() => setParts((all) => toggled(all, { id, kind, weight: 0.5 }))} className="accent-teal" />
                <img src={src} alt="" className="h-12 w-16 shrink-0 bg-mid object-contain" draggable={false} />
                <div className="min-w-0 flex-1">
                  <p className="m-0 flex justify-between gap-2 text-[13px]"><span className="truncate">{name}</span>{part && <span className="tabular-nums">{Math.round(shareOf(parts, id) * 100)} %</span>}</p>
                  {part && <Gauge id={`mix-${id}`} label={`Weight of ${name}`} short="Weight" value={part.weight} span={null} min={0} max={1} step={0.05} digits={2} onValue={(weight) => setParts((all) => weighed(all, id, weight))} />}
                </div>
              </li>
            );
          })}
        </ul>
        {candidates.length < 2 && <p className="m-0 text-[13px] text-faint">This study has one picture only: bring in a second one, or choose takes on the sheet first.</p>}
        <div className="flex flex-wrap gap-2">
          <Button disabled={add.isPending} onClick={() => file.current?.click()}>Bring in another</Button>
          <input ref={file} type="file" accept="image/*" hidden aria-label="Another picture to mix" onChange={(event) => {
            const given = event.target.files?.[0];
            event.target.value = "";
            if (given) add.mutate({ studyId, file: given }, { onSuccess: (made) => setParts((all) => toggled(all, { id: made.id, kind: "source", weight: 0.5 })), onError: sayFault });
          }} />
          <Button onClick={onClose}>Leave it</Button>
          <Button weight="main" disabled={!request || make.isPending} onClick={save}>Keep as a source</Button>
        </div>
      </div>
    </section>
  );
}

/** The chosen takes, else the source of the next takes and another one. */
function firstParts(sources: SourceView[], takes: TakeView[], source: SourceView): Part[] {
  if (takes.length > 1) return takes.slice(0, 3).map((t) => ({ id: t.id, kind: "take", weight: 0.5 }));
  const other = sources.find((s) => s.id !== source.id);
  return [source, ...(other ? [other] : [])].map((s, i) => ({ id: s.id, kind: "source", weight: i ? 0.4 : 0.6 }));
}
