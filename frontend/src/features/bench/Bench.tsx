import { useEffect, useMemo, useRef, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { sourceImage, takeHeat, takeImage, takeLines, takeSource, type Choices, type SourceView, type StudyView, type TakeView } from "../../api/client";
import { useKeys } from "../../common/keys";
import { SURROUND_CLASS, usePreferences } from "../../common/preferences";
import { useElementSize } from "../../common/useElementSize";
import { takeBeside } from "../../primitives/arrange";
import { differing } from "../../primitives/differences";
import type { Divider } from "../../primitives/divide";
import { centred, fitted, type Size, type View } from "../../primitives/view";
import { Button } from "../../ui/Button";
import { axisName } from "../../study/controls";
import { DockedPanel } from "../take/SidePanel";
import { TakePanel } from "../take/TakePanel";
import { usePlace } from "../../study/place";
import { useLabels } from "../../study/useLabels";
import { useStudyDesk } from "../../study/useStudyDesk";
import { useSheet } from "../../study/useSheet";
import { AxisSteps } from "./AxisSteps";
import { Film } from "./Film";
import { BenchBar } from "./BenchBar";
import { MARGIN, MOST_FIT, nextScale, paneOf, Stage, zoomedInMiddle, type Mode, type Over, type Shot } from "./Stage";
import { Under, type Pointed } from "./Under";
import { lookTitle } from "../../primitives/engines";

const SOURCE = "source";
const MOST = 4;
const MOST_COMPARABLE = 12;
const TURN = 15;
/** As much of a source as its address gives. */
const LARGEST_SOURCE = 2048;

/** The close look: source, or another take, against one to four takes. */
export function Bench({ study, choices }: { study: StudyView; choices: Choices }) {
  const desk = useStudyDesk(study);
  const { pick, picked } = desk;
  const sheet = useSheet(study.id, desk.sweep, desk.marks, picked, pick);
  const labelOf = useLabels();
  const navigate = useNavigate();
  const { surround, tucked, tuck } = usePreferences();
  const place = usePlace();
  const [mode, setMode] = useState<Mode>(desk.chosen.length > 1 ? "pair" : "divider");
  const [divider, setDivider] = useState<Divider>({ at: 0.5, angle: 0 });
  const [over, setOver] = useState<Over>(null);
  const [view, setView] = useState<View | null>(null);
  const [asked] = useSearchParams();
  const [against, setAgainst] = useState(() => asked.get("against")?.replace(/^take:/, "") ?? SOURCE);
  const [before, setBefore] = useState<{ now: string | undefined; last: string | undefined }>({ now: picked, last: undefined });
  const stage = useRef<HTMLDivElement>(null);
  const room = useElementSize(stage);
  const pointer = usePointer();

  const cells = sheet.arranged.cells;
  const done = useMemo(() => cells.filter((c) => c.take.state === "done"), [cells]);
  const take = desk.take?.state === "done" ? desk.take : (done.find((c) => desk.marks.get(c.take.id)?.value === "keep") ?? done[0])?.take;
  useEffect(() => {
    if (take && take.id !== picked) pick(take.id);
  });
  // The take that was looked at before: its recipe is what the next one is read against.
  if (before.now !== picked) setBefore({ now: picked, last: before.now });

  const beside = desk.chosen.map((id) => done.find((c) => c.take.id === id)?.take).filter((t): t is TakeView => t !== undefined);
  const several = beside.length > 1 ? beside.slice(0, MOST) : take ? [take] : [];
  const shownTakes = mode === "divider" ? (take ? [take] : []) : several;
  // A take of another sweep, or another source, may have been laid here from elsewhere.
  const other = done.find((c) => c.take.id === against)?.take ?? study.sweeps.flatMap((s) => s.takes).find((t) => t.id === against && t.state === "done");
  const otherSource = study.sources.find((s) => `source:${s.id}` === against);
  const last = done.find((c) => c.take.id === before.last)?.take;
  const compared = other ?? (beside.length > 1 ? beside.find((t) => t.id !== take?.id) : last);

  const picture: Size = { width: take?.width ?? 1, height: take?.height ?? 1 };
  const pane = paneOf(mode, shownTakes.length, room);
  const current = view ?? fitted(picture, pane, MARGIN, MOST_FIT);
  const zoom = (scale: number) => setView(zoomedInMiddle(current, pane, scale));
  const change = (next: Mode) => {
    setMode(next);
    // A pane of another size shows the same spot in its middle.
    const to = paneOf(next, next === "divider" ? 1 : several.length, room);
    if (view) setView({ ...view, x: view.x + (to.width - pane.width) / 2, y: view.y + (to.height - pane.height) / 2 });
  };
  const toggle = (what: Over) => setOver((now) => (now === what ? null : what));
  const step = (dx: number, dy: number) => () => {
    const next = takeBeside({ ...sheet.arranged, cells: done }, done.length, take?.id, dx, dy);
    if (next) pick(next.id);
  };
  const turnPage = (by: number) => {
    if (!take) return;
    const at = done.find((c) => c.take.id === take.id)?.at;
    sheet.setPage(sheet.page + by);
    const spans = desk.sweep?.spans ?? [];
    const there = desk.sweep?.takes.find((t, k) => t.state === "done" && at && spans.length === 3 && k === ((sheet.page + by) * spans[1]!.values.length + at[1]!) * spans[2]!.values.length + at[2]!);
    if (there) pick(there.id);
  };
  const carryOn = () => desk.carryOn(() => void navigate(`/study/${study.id}?live`));
  const back = () => void navigate(`/study/${study.id}`);
  const slide = (by: number) => setDivider((d) => ({ ...d, at: Math.min(Math.max(d.at + by, 0), 1) }));
  const turn = (by: number) => setDivider((d) => ({ ...d, angle: ((d.angle + by + 180) % 360) - 180 }));
  usePreload(done.map((c) => c.take.id), take?.id);

  useKeys(
    {
      ...desk.keys,
      d: () => change("divider"),
      p: () => change("pair"),
      o: () => change("alone"),
      n: carryOn,
      l: (event) => event.shiftKey && desk.lineage(),
      ",": tuck,
      h: () => toggle("heat"),
      i: () => toggle("lines"),
      u: (event) => (event.shiftKey ? toggle("difference") : desk.touch()),
      a: () => take && setAgainst((now) => (now === take.id ? SOURCE : take.id)),
      0: () => setView(null),
      1: () => setView(centred(picture, pane, 1)),
      "+": () => zoom(nextScale(current.scale, true)),
      "=": () => zoom(nextScale(current.scale, true)),
      "-": () => zoom(nextScale(current.scale, false)),
      "[": () => slide(-0.05),
      "]": () => slide(0.05),
      "{": () => turn(-TURN),
      "}": () => turn(TURN),
      "\\": () => setDivider((d) => ({ at: 0.5, angle: d.angle === 0 ? 90 : 0 })),
      ArrowLeft: step(-1, 0),
      ArrowRight: step(1, 0),
      ArrowUp: step(0, -1),
      ArrowDown: step(0, 1),
      PageUp: () => turnPage(-1),
      PageDown: () => turnPage(1),
      Escape: () => (sheet.chosen.length ? sheet.clear() : back()),
    },
    desk.keysUp,
  );

  if (!take || !desk.source || !desk.sweep) {
    return (
      <div className={`flex flex-1 flex-col items-center justify-center gap-3 ${SURROUND_CLASS[surround]}`}>
        <p>The bench compares a take with its source. There is no finished take yet.</p>
        <Button onClick={back}>Back to the desk</Button>
      </div>
    );
  }
  const { spans } = desk.sweep;
  const nameOf = (at: number[]) => spans.map((s, k) => labelOf(s.control, s.values[at[k]!]!, s.values)).reverse().join(", ") || "take";
  // Those that an artist compares with: chosen, kept, the one before, and the one compared with now.
  const comparable = done.filter(({ take: { id } }) => desk.chosen.includes(id) || id === against || id === before.last || desk.marks.get(id)?.value === "keep").slice(0, MOST_COMPARABLE);
  const fullName = (at: number[]) => spans.map((s, k) => `${axisName(s.control)} ${labelOf(s.control, s.values[at[k]!]!, s.values)}`).reverse().join(", ") || "take";
  const cellOf = (id: string) => done.find((c) => c.take.id === id);
  const labelled = (t: TakeView) => {
    const cell = cellOf(t.id);
    return cell ? fullName(cell.at) : `${lookTitle(choices, t.recipe)}, strength ${(t.recipe.strength ?? 0).toFixed(2)}`;
  };
  const shot = (t: TakeView) => ({ id: t.id, label: labelled(t), src: takeImage(t.id) });
  const ground = groundOf(other && shot(other), otherSource, take);
  const elsewhere = otherSource || (other && !cellOf(other.id)) ? [{ value: against, title: ground.label.replace(/^compared: /, ""), detail: "" }] : [];
  const overlay = over === "heat" && take.readings ? takeHeat(take.id, take.readings.version) : over === "lines" ? takeLines(take.id) : null;
  const pictures = [ground, ...shownTakes.map(shot)];
  return (
    <div className="relative flex min-h-0 flex-1">
      <main className={`flex min-w-0 flex-1 flex-col ${SURROUND_CLASS[surround]}`}>
        <BenchBar
          mode={mode}
          onMode={change}
          against={other || otherSource ? against : SOURCE}
          comparable={[{ value: SOURCE, title: "Source", detail: "" }, ...elsewhere, ...comparable.map((c) => ({ value: c.take.id, title: fullName(c.at), detail: "" }))]}
          onAgainst={setAgainst}
          blinking={desk.blinking}
          onBlink={place.blink}
          over={over}
          onOver={toggle}
          heat={Boolean(take.readings?.version)}
          scale={current.scale}
          onFit={() => setView(null)}
          onScale={zoom}
        />
        <div ref={stage} className="flex min-h-0 flex-1 flex-col">
          <Stage
            mode={mode}
            picture={picture}
            against={ground}
            takes={shownTakes.map(shot)}
            blinking={desk.blinking}
            over={over}
            overlay={overlay}
            worst={over === "heat" ? (take.readings?.worst ?? null) : null}
            divider={divider}
            onDivider={setDivider}
            view={view}
            onView={setView}
            onPoint={pointer.tell}
          />
        </div>
        {!tucked && (
          <div className="flex h-[22px] shrink-0 items-center gap-4 border-t border-rule bg-paper px-3 text-ink">
            <AxisSteps spans={spans} at={cellOf(take.id)?.at ?? []} labelOf={labelOf} nameOf={axisName} steps={[{ less: step(-1, 0), more: step(1, 0) }, { less: step(0, -1), more: step(0, 1) }, { less: () => turnPage(-1), more: () => turnPage(1) }]} />
            <Under pictures={pictures} size={picture} listen={pointer.listen} />
          </div>
        )}
        {!tucked && <Film cells={done} picked={take.id} beside={desk.chosen} marks={desk.marks} nameOf={nameOf} onPick={sheet.click} />}
      </main>
      <DockedPanel label="Take">
        <TakePanel
          take={take}
          source={desk.source}
          mark={desk.marks.get(take.id)}
          choices={choices}
          differs={compared ? differing([take.recipe, compared.recipe]) : []}
          onMark={desk.setMark}
          onCopy={desk.copy}
          onCarryOn={carryOn}
          onFinish={desk.finish}
          onLineage={desk.lineage}
          others={desk.takes}
          onGo={desk.goTo}
        />
      </DockedPanel>
    </div>
  );
}

/** What the takes are compared with: another take, another source, or the source that the take was made of. */
function groundOf(other: Shot | undefined, source: SourceView | undefined, take: TakeView): Shot {
  if (other) return { ...other, label: `compared: ${other.label}` };
  if (source) return { id: source.id, label: `compared: ${source.name}`, src: sourceImage(source, Math.min(Math.max(take.width, take.height), LARGEST_SOURCE)) };
  return { id: SOURCE, label: "source", src: takeSource(take.id) };
}

/** Where the hand points, told without drawing the bench anew. */
function usePointer() {
  const [hands] = useState(() => {
    const told = new Set<(at: Pointed | null) => void>();
    return {
      tell: (at: Pointed | null) => told.forEach((listener) => listener(at)),
      listen: (listener: (at: Pointed | null) => void) => {
        told.add(listener);
        return () => void told.delete(listener);
      },
    };
  });
  return hands;
}

/** The takes beside the one looked at are fetched and decoded before they are asked for. */
function usePreload(ids: string[], now: string | undefined) {
  const at = ids.indexOf(now ?? "");
  const near = [at - 2, at - 1, at + 1, at + 2].map((k) => ids[k]).filter(Boolean).join(" ");
  const held = useRef(new Map<string, HTMLImageElement>());
  useEffect(() => {
    const wanted = new Map<string, HTMLImageElement>();
    for (const id of near.split(" ").filter(Boolean)) {
      const image = held.current.get(id) ?? new Image();
      if (!image.src) {
        image.src = takeImage(id);
        image.decode().catch(() => undefined);
      }
      wanted.set(id, image);
    }
    held.current = wanted;
  }, [near]);
}
