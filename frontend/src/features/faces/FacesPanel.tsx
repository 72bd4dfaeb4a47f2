import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { originalImage, type FoundFace, type SourceView } from "../../api/client";
import { useFaces, useMarkFaces } from "../../api/queries";
import { useKeys } from "../../common/keys";
import { sayFault, useNotices } from "../../common/notices";
import { useElementSize } from "../../common/useElementSize";
import { useHistory } from "../../common/useHistory";
import { keyed, leantTo, looking, MOST_FACES, movedTo, ovalAt, ovalBetween, widenedTo, type Oval } from "../../primitives/faces";
import { maskSize, shownIn, type Point } from "../../primitives/region";
import { Button } from "../../ui/Button";
import { FaceOval } from "./FaceOval";
import { FacePoints } from "./FacePoints";

interface Props {
  studyId: string;
  source: SourceView;
  onClose: () => void;
}

const MARGIN = 24;
const PANEL = 300;
/** A press that moves less than this, in shares of the picture, only chooses. */
const STILL = 0.008;

/** Where the faces are: takes keep their features and paint them with finer tools. */
export function FacesPanel({ studyId, source, onClose }: Props) {
  const faces = useFaces(source);
  if (faces.error) return <p role="alert" className="p-6">{faces.error.message}</p>;
  if (!faces.data) return <p className="p-6">Looking for faces…</p>;
  const found = faces.data.faces.map(({ x, y, width, angle }) => ({ x, y, width, angle }));
  return <Marks found={found} seen={faces.data.faces} marked={faces.data.marked} studyId={studyId} source={source} onClose={onClose} />;
}

type Drag =
  | { how: "draw"; from: Point; begun: boolean }
  | { how: "move"; from: Point; began: Oval }
  | { how: "widen" | "lean" };

function Marks({ found, seen, marked, studyId, source, onClose }: Props & { found: Oval[]; seen: FoundFace[]; marked: boolean }) {
  const { now, change, undo, redo, canUndo, canRedo } = useHistory<Oval[]>(found);
  const [chosen, setChosen] = useState(-1);
  const drag = useRef<Drag | null>(null);
  const stage = useRef<HTMLDivElement>(null);
  const room = useElementSize(stage);
  const keep = useMarkFaces(studyId);
  const size = maskSize(source.width, source.height);
  const shown = shownIn(room, size, MARGIN);
  const long = Math.max(shown.width, shown.height);
  const picture = { x: shown.width / long, y: shown.height / long };

  const done = { onSuccess: onClose, onError: sayFault };
  // Untouched, what was found stays found anew with every frame.
  const save = () => canUndo && keep.mutate({ sourceId: source.id, faces: now }, done);
  const put = (index: number, to: Oval | null, apart: boolean) => change((all) => all.flatMap((oval, i) => (i === index ? (to ? [to] : []) : [oval])), apart);
  const add = (oval: Oval) => {
    setChosen(now.length);
    change((all) => [...all, oval], true);
  };
  const remove = (index: number) => {
    put(index, null, true);
    setChosen(-1);
  };
  useKeys({ Escape: onClose, Enter: save, "ctrl+z": undo, "ctrl+y": redo, Delete: () => now[chosen] && remove(chosen), Backspace: () => now[chosen] && remove(chosen) });

  const pointOf = (event: PointerEvent): Point => {
    const box = event.currentTarget.getBoundingClientRect();
    return { x: (event.clientX - box.left) / long, y: (event.clientY - box.top) / long };
  };
  const begin = (event: PointerEvent) => {
    if (event.button !== 0) return;
    const handle = event.target instanceof Element ? event.target.getAttribute("data-handle") : null;
    const at = pointOf(event);
    event.currentTarget.setPointerCapture(event.pointerId);
    if (handle === "widen" || handle === "lean") {
      put(chosen, now[chosen]!, true);
      drag.current = { how: handle };
      return;
    }
    const hit = ovalAt(now, at);
    setChosen(hit);
    drag.current = hit < 0 ? { how: "draw", from: at, begun: false } : { how: "move", from: at, began: now[hit]! };
  };
  const move = (event: PointerEvent) => {
    const by = drag.current;
    if (!by) return;
    const at = pointOf(event);
    if (by.how === "draw" && !by.begun) {
      if (Math.hypot(at.x - by.from.x, at.y - by.from.y) < STILL) return;
      by.begun = true;
      if (now.length < MOST_FACES) return add(ovalBetween(by.from, at));
      drag.current = null;
      return useNotices.getState().say(`A picture has at most ${MOST_FACES} marked faces; take one away first.`);
    }
    const oval = now[chosen];
    if (!oval) return;
    if (by.how === "draw") put(chosen, ovalBetween(by.from, at), false);
    else if (by.how === "move") put(chosen, movedTo(oval, { x: by.began.x + at.x - by.from.x, y: by.began.y + at.y - by.from.y }, picture), oval === by.began);
    else put(chosen, by.how === "widen" ? widenedTo(oval, at) : leantTo(oval, at), false);
  };
  const end = () => (drag.current = null);
  const key = (index: number) => (event: KeyboardEvent) => {
    const to = keyed(now[index]!, event.key, event.shiftKey, picture);
    if (!to) return;
    event.preventDefault();
    event.stopPropagation();
    put(index, to, false);
  };

  return (
    <section aria-label="Faces" className="flex min-h-0 flex-1">
      <div ref={stage} className="flex min-w-0 flex-1 items-center justify-center overflow-hidden">
        {room.width > 0 && (
          <div className="relative" style={shown}>
            <img src={originalImage(source)} alt={`Source ${source.name}`} {...shown} className="block" draggable={false} />
            <svg role="group" aria-label="Drag around a head to mark its face" {...shown} className="absolute inset-0 cursor-crosshair touch-none overflow-hidden select-none" onPointerDown={begin} onPointerMove={move} onPointerUp={end} onPointerCancel={end}>
              {seen.map((face, i) => now.some((oval) => oval.x === face.x && oval.y === face.y && oval.width === face.width) && <FacePoints key={`points ${i}`} face={face} long={long} />)}
              {now.map((oval, i) => (
                <FaceOval key={i} oval={oval} long={long} name={`Face ${i + 1} of ${now.length}`} chosen={i === chosen} onChoose={() => setChosen(i)} onKeyDown={key(i)} />
              ))}
            </svg>
          </div>
        )}
      </div>
      <div className="flex shrink-0 flex-col gap-3 bg-paper px-4 py-3 text-ink" style={{ width: PANEL }}>
        <div>
          <h2 className="m-0 text-base font-semibold">Faces</h2>
          <p className="m-0 text-[13px] text-faint">Takes hold their features and paint them with finer tools. Takes that exist stay as they are.</p>
        </div>
        <p role="status" className="m-0 text-[13px]">
          {now.length === 0 ? "No face: takes paint all of the picture alike." : `${now.length === 1 ? "One face" : `${now.length} faces`}, ${marked || canUndo ? "marked by you" : "found by the program"}.`}
        </p>
        {seen.some((face) => face.yaw !== null) && <p className="m-0 text-[13px] text-faint">{looking(seen)}</p>}
        <ul className="m-0 list-disc pl-4 text-[13px] text-faint">
          <li>Drag around a head to mark it, from hair to chin.</li>
          <li>Drag an oval to move it; its handles widen it and lean it.</li>
          <li>By keyboard: arrows move, + and − widen, [ and ] lean, Delete takes it away.</li>
        </ul>
        <div className="flex flex-wrap gap-2">
          <Button disabled={now.length >= MOST_FACES} onClick={() => add({ x: picture.x / 2, y: picture.y / 2, width: 0.15, angle: 0 })}>Add a face</Button>
          <Button disabled={!now[chosen]} onClick={() => remove(chosen)}>Take it away</Button>
          <Button disabled={now.length === 0} onClick={() => { change(() => [], true); setChosen(-1); }}>No faces</Button>
        </div>
        <div className="mt-auto flex flex-wrap gap-2">
          <Button disabled={!canUndo} onClick={undo} title="Undo (Ctrl Z)">Undo</Button>
          <Button disabled={!canRedo} onClick={redo} title="Redo (Ctrl Y)">Redo</Button>
          <Button onClick={onClose}>Leave them</Button>
          {marked && <Button disabled={keep.isPending} onClick={() => keep.mutate({ sourceId: source.id, faces: null }, done)}>Find them again</Button>}
          <Button weight="main" disabled={keep.isPending || !canUndo} onClick={save}>Keep the marks</Button>
        </div>
      </div>
    </section>
  );
}
