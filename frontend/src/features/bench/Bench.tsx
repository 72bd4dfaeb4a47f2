import { useEffect, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { takeHeat, takeImage, takeLines, takeSource, type Choices, type StudyView, type TakeView } from "../../api/client";
import { useKeys } from "../../common/keys";
import { SURROUND_CLASS, usePreferences } from "../../common/preferences";
import { useElementSize } from "../../common/useElementSize";
import { takeBeside } from "../../primitives/arrange";
import { differing } from "../../primitives/differences";
import type { Divider } from "../../primitives/divide";
import { centred, fitted, type Size, type View } from "../../primitives/view";
import { Button } from "../../ui/Button";
import { Picker } from "../../ui/Picker";
import { axisName } from "../../study/controls";
import { TakePanel } from "../take/TakePanel";
import { useLabels } from "../../study/useLabels";
import { useStudyDesk } from "../../study/useStudyDesk";
import { useSheet } from "../../study/useSheet";
import { AxisSteps } from "./AxisSteps";
import { Film } from "./Film";
import { nextScale, paneOf, Stage, zoomedInMiddle, type Mode, type Over } from "./Stage";
import { Under, type Pointed } from "./Under";

const MODES: { mode: Mode; title: string; key: string }[] = [
  { mode: "divider", title: "Divider", key: "D" },
  { mode: "pair", title: "Side by side", key: "P" },
  { mode: "alone", title: "Takes alone", key: "O" },
];
const OVERS: { over: Over; title: string; key: string; what: string }[] = [
  { over: "heat", title: "Heat", key: "H", what: "Where the composition gave way, the worst place boxed" },
  { over: "lines", title: "Lines", key: "I", what: "The source's lines over the take" },
  { over: "difference", title: "Difference", key: "U", what: "What is different, pixel by pixel: black where nothing is" },
];
const SOURCE = "source";
const MOST = 4;
const MOST_COMPARABLE = 12;
const TURN = 15;

/** The close look: source, or another take, against one to four takes. */
export function Bench({ study, choices }: { study: StudyView; choices: Choices }) {
  const desk = useStudyDesk(study);
  const { pick, picked } = desk;
  const sheet = useSheet(study.id, desk.sweep, desk.marks, picked, pick);
  const labelOf = useLabels();
  const navigate = useNavigate();
  const surround = usePreferences((s) => s.surround);
  const [mode, setMode] = useState<Mode>(desk.chosen.length > 1 ? "pair" : "divider");
  const [divider, setDivider] = useState<Divider>({ at: 0.5, angle: 0 });
  const [over, setOver] = useState<Over>(null);
  const [view, setView] = useState<View | null>(null);
  const [against, setAgainst] = useState(SOURCE);
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
  const other = done.find((c) => c.take.id === against)?.take;
  const last = done.find((c) => c.take.id === before.last)?.take;
  const compared = other ?? (beside.length > 1 ? beside.find((t) => t.id !== take?.id) : last);

  const picture: Size = { width: take?.width ?? 1, height: take?.height ?? 1 };
  const pane = paneOf(mode, shownTakes.length, room);
  const current = view ?? fitted(picture, pane, 24);
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
      h: () => toggle("heat"),
      i: () => toggle("lines"),
      u: () => toggle("difference"),
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
  const shot = (t: TakeView) => ({ id: t.id, label: fullName(cellOf(t.id)?.at ?? spans.map(() => 0)), src: takeImage(t.id) });
  const ground = other ? { ...shot(other), label: `compared: ${shot(other).label}` } : { id: SOURCE, label: "source", src: takeSource(take.id) };
  const overlay = over === "heat" && take.readings ? takeHeat(take.id, take.readings.version) : over === "lines" ? takeLines(take.id) : null;
  const pictures = [ground, ...shownTakes.map(shot)];
  return (
    <div className="flex min-h-0 flex-1">
      <main className={`flex min-w-0 flex-1 flex-col ${SURROUND_CLASS[surround]}`}>
        <div className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-rule bg-paper px-4 py-1.5 text-ink">
          <div role="group" aria-label="Comparison" className="flex rounded-md border border-rule bg-sheet p-0.5">
            {MODES.map((m) => (
              <button key={m.mode} type="button" aria-pressed={mode === m.mode} title={`${m.title} (${m.key})`} onClick={() => change(m.mode)} className={`h-7 rounded px-2.5 font-semibold ${mode === m.mode ? "bg-deep text-white" : "hover:bg-glow"}`}>
                {m.title}
              </button>
            ))}
          </div>
          <div className="w-36" title="What takes are compared with (A: this take, and again the source)">
            <Picker
              label="Compared with"
              value={other ? against : SOURCE}
              options={[{ value: SOURCE, title: "Source", detail: "" }, ...comparable.map((c) => ({ value: c.take.id, title: fullName(c.at), detail: "" }))]}
              onPick={setAgainst}
            />
          </div>
          <Button
            aria-pressed={desk.blinking}
            title="Hold to see what it is compared with (B)"
            className="px-2.5"
            onPointerDown={() => desk.keys.b?.(new KeyboardEvent("keydown"))}
            onPointerUp={() => desk.keysUp.b?.(new KeyboardEvent("keyup"))}
            onPointerLeave={() => desk.keysUp.b?.(new KeyboardEvent("keyup"))}
          >
            Blink
          </Button>
          <div role="group" aria-label="Laid over" className="flex gap-1">
            {OVERS.map((o) => (
              <Button key={o.title} aria-pressed={over === o.over} className={`px-2.5 ${over === o.over ? "!border-amber !bg-glow" : ""}`} disabled={o.over === "heat" && !take.readings?.version} title={`${o.what} (${o.key})`} onClick={() => toggle(o.over)}>
                {o.title}
              </Button>
            ))}
          </div>
          <div role="group" aria-label="Zoom" className="ml-auto flex items-center">
            <span className="w-14 text-right font-semibold" data-testid="zoom">{Math.round(current.scale * 100)} %</span>
            <Button weight="quiet" className="px-2" title="Fit (0)" onClick={() => setView(null)}>Fit</Button>
            {[1, 2, 4].map((scale) => (
              <Button key={scale} weight="quiet" className="px-1.5" onClick={() => zoom(scale)}>
                {scale * 100}
              </Button>
            ))}
          </div>
        </div>
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
        <div className="flex items-center gap-4 border-t border-rule bg-paper px-4 py-1 text-ink">
          <AxisSteps spans={spans} at={cellOf(take.id)?.at ?? []} labelOf={labelOf} nameOf={axisName} steps={[{ less: step(-1, 0), more: step(1, 0) }, { less: step(0, -1), more: step(0, 1) }, { less: () => turnPage(-1), more: () => turnPage(1) }]} />
          <Under pictures={pictures} size={picture} listen={pointer.listen} />
        </div>
        <Film cells={done} picked={take.id} beside={desk.chosen} marks={desk.marks} nameOf={nameOf} onPick={sheet.click} />
      </main>
      <TakePanel
        take={take}
        source={desk.source}
        mark={desk.marks.get(take.id)}
        choices={choices}
        differs={compared ? differing([take.recipe, compared.recipe]) : []}
        onMark={desk.setMark}
        onCopy={desk.copy}
        onCarryOn={carryOn}
        empty=""
      />
    </div>
  );
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
