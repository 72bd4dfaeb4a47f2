import { DndContext, PointerSensor, useSensor, useSensors, type DragEndEvent } from "@dnd-kit/core";
import { ArrowLeft } from "lucide-react";
import { useCallback, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import type { Choices } from "../../api/client";
import { useHang, useWall, type Hung, type WallBody, type WallView } from "../../api/wall";
import { useKeys } from "../../common/keys";
import { sayFault } from "../../common/notices";
import { SURROUND_CLASS, usePreferences } from "../../common/preferences";
import { useElementSize } from "../../common/useElementSize";
import { moved, rows } from "../../primitives/rows";
import { counted } from "../../primitives/words";
import { usePlace } from "../../study/place";
import { Button, KeyCap } from "../../ui/Button";
import { Picker } from "../../ui/Picker";
import { Blink } from "./Blink";
import { inOrder, sized } from "./hang";
import { Picture } from "./Picture";
import { TakeAway } from "./TakeAway";
import { lookTitle } from "../../primitives/engines";

const GAP = 10;
const CAPTION = 24;
const MARGIN = 16;
/** Height of a picture of the usual size, a share of the room's width. */
const USUAL = 0.2;
const DRAG_FROM = 6;

/** What was kept, side by side: in one study, or without one in all of them. */
export function WallPlace({ studyId, choices }: { studyId: string | null; choices: Choices }) {
  const wall = useWall(studyId);
  if (wall.error) return <p role="alert" className="p-8 text-fault">{wall.error.message}</p>;
  if (!wall.data) return <p className="p-8 text-faint">Hanging the wall…</p>;
  return <Wall wall={wall.data} studyId={studyId} choices={choices} />;
}

function Wall({ wall, studyId, choices }: { wall: WallView; studyId: string | null; choices: Choices }) {
  const navigate = useNavigate();
  const place = usePlace();
  const surround = usePreferences((s) => s.surround);
  const hang = useHang(studyId);
  const [picked, setPicked] = useState<string | null>(null);
  const [beside, setBeside] = useState<string | null>(null);
  const [blink, setBlink] = useState<{ other: boolean } | null>(null);
  const stage = useRef<HTMLDivElement>(null);
  const room = useElementSize(stage);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: DRAG_FROM } }));

  const body = wall.body as WallBody;
  const hung = useMemo(() => inOrder(wall), [wall]);
  const ids = hung.map((one) => one.take.id);
  const laid = useMemo(
    () => rows(hung.map(({ take }) => ({ aspect: take.width / take.height, size: body.sizes[take.id] ?? 1 })), Math.max(room.width - 2 * MARGIN, 1), room.width * USUAL, GAP, CAPTION),
    [hung, body.sizes, room.width],
  );
  const high = laid.reduce((most, at) => Math.max(most, at.y + at.height), 0) + CAPTION + 2 * MARGIN;
  const labels = useMemo(() => new Map(hung.map((one) => [one.take.id, labelOf(one, choices)])), [hung, choices]);
  const named = (id: string | null) => hung.find((one) => one.take.id === id);

  const keep = (next: Partial<WallBody>) => hang.mutate({ ...body, ...next }, { onError: sayFault });
  const put = (from: string, to: string) => keep({ order: "hand", takes: moved(ids, from, to) });
  const dropped = ({ active, over }: DragEndEvent) => {
    if (over && over.id !== active.id) put(String(active.id), String(over.id));
  };
  const pick = useCallback((id: string, second: boolean) => (second ? setBeside((now) => (now === id ? null : id)) : (setPicked(id), setBeside(null))), []);
  const open = useCallback((one: Hung) => {
    place.showSweep(one.study_id, one.sweep_id);
    place.pick(one.study_id, one.take.id);
    void navigate(`/study/${one.study_id}`);
  }, [place, navigate]);
  const caption = useCallback((id: string, text: string) => hang.mutate({ ...body, captions: { ...body.captions, [id]: text } }, { onError: sayFault }), [hang, body]);
  const step = (by: number) => () => {
    const at = picked ? ids.indexOf(picked) : -1;
    const next = ids[at < 0 ? 0 : Math.min(Math.max(at + by, 0), ids.length - 1)];
    if (next) pick(next, false);
  };
  const shift = (by: number) => {
    const to = picked ? ids[ids.indexOf(picked) + by] : undefined;
    if (picked && to) put(picked, to);
  };
  const grow = (larger: boolean) => () => picked && hang.mutate(sized(body, picked, larger), { onError: sayFault });
  const [one, two] = [named(picked), named(beside)];
  const both = one !== undefined && two !== undefined && one !== two;
  const back = () => void (window.history.length > 1 ? navigate(-1) : navigate(studyId ? `/study/${studyId}` : "/"));
  useKeys(
    {
      ArrowLeft: (event) => (event.shiftKey ? shift(-1) : step(-1)()),
      ArrowRight: (event) => (event.shiftKey ? shift(1) : step(1)()),
      "+": grow(true),
      "=": grow(true),
      "-": grow(false),
      b: () => both && setBlink((now) => ({ other: now !== null })),
      Enter: () => one && open(one),
      Escape: () => (blink ? setBlink(null) : picked ? (setPicked(null), setBeside(null)) : back()),
    },
    { b: () => setBlink((now) => now && { other: false }) },
  );

  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="flex h-10 shrink-0 items-center gap-2 border-b border-rule bg-paper px-3">
        <button type="button" aria-label="Back" title="Back (Esc)" onClick={back} className="rounded p-1 text-faint hover:bg-glow hover:text-ink"><ArrowLeft size={16} /></button>
        <input key={body.title} aria-label="Title of the wall" placeholder={studyId ? "Wall of this study" : "Wall of all studies"} defaultValue={body.title} maxLength={200} onBlur={(event) => event.target.value.trim() !== body.title && keep({ title: event.target.value.trim() })} onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()} className="h-7 w-56 rounded border border-transparent bg-transparent px-1 text-[15px] font-semibold hover:border-rule focus:border-amber focus:outline-none" />
        <span className="text-[13px] text-faint">{counted(hung.length, "picture")}</span>
        <span className="w-44"><Picker label="Order" value={body.order} options={orders(choices)} onPick={(order) => keep({ order, ...(order === "hand" && { takes: ids }) })} /></span>
        <div className="ml-auto flex items-center gap-1.5">
          <Button disabled={!one} onClick={grow(false)} aria-label="Smaller" title="Smaller (−)">−</Button>
          <Button disabled={!one} onClick={grow(true)} aria-label="Larger" title="Larger (+)">+</Button>
          <Button disabled={!both} onClick={() => setBlink({ other: false })} title="Shift and a click picks a second one">Blink <KeyCap>B</KeyCap></Button>
          <Button disabled={!one} onClick={() => one && open(one)}>Open it <KeyCap>Enter</KeyCap></Button>
          <TakeAway hung={hung} body={body} labels={labels} />
        </div>
      </div>
      <main ref={stage} className={`relative min-h-0 flex-1 overflow-y-auto ${SURROUND_CLASS[surround]}`}>
        {hung.length === 0 && <p className="p-8 text-center">Nothing hangs here yet. Keep a take (K) on the desk or the bench, and it comes to the wall.</p>}
        <DndContext sensors={sensors} onDragEnd={dropped}>
          <div className="relative" style={{ height: high, margin: MARGIN }}>
            {laid.map((at) => {
              const hungHere = hung[at.index]!;
              const { id } = hungHere.take;
              return <Picture key={id} hung={hungHere} at={at} label={labels.get(id)!} caption={body.captions[id] ?? ""} picked={id === picked} beside={id === beside} onPick={pick} onOpen={open} onCaption={caption} />;
            })}
          </div>
        </DndContext>
        {blink && both && <div className={`fixed inset-x-0 top-[84px] bottom-0 z-20 ${SURROUND_CLASS[surround]}`}><Blink first={one} second={two} labels={[labels.get(one.take.id)!, labels.get(two.take.id)!]} other={blink.other} onOther={(other) => setBlink({ other })} onClose={() => setBlink(null)} /></div>}
      </main>
    </div>
  );
}

const labelOf = ({ take: { recipe } }: Hung, choices: Choices) =>
  `${lookTitle(choices, recipe)}, strength ${(recipe.strength ?? 0).toFixed(2)}, seed ${recipe.seed}`;

const orders = (choices: Choices) => [
  { value: "hand", title: "As you hang it", detail: "drag a picture to another's place" },
  { value: "date", title: "Last kept first", detail: "" },
  ...choices.readings.map((kind) => ({ value: kind.name, title: kind.title, detail: "the highest first" })),
];
