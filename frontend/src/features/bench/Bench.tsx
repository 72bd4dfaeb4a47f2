import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { sourceImage, takeImage, takePreview, type Choices, type StudyView } from "../../api/client";
import { useKeys } from "../../app/keys";
import { SURROUND_CLASS, usePreferences } from "../../app/preferences";
import { useElementSize } from "../../app/useElementSize";
import { centred, fitted, type Size, type View } from "../../primitives/view";
import { Button } from "../../ui/Button";
import { labelOf } from "../desk/controls";
import { MarkDot } from "../desk/MarkDot";
import { TakePanel } from "../desk/TakePanel";
import { useStudyDesk } from "../desk/useStudyDesk";
import { nextScale, Stage, zoomedInMiddle, type Mode } from "./Stage";

const MODES: { mode: Mode; title: string; key: string }[] = [
  { mode: "divider", title: "Divider", key: "D" },
  { mode: "pair", title: "Side by side", key: "P" },
  { mode: "alone", title: "Take alone", key: "O" },
];

/** The close look: source against one take. */
export function Bench({ study, choices }: { study: StudyView; choices: Choices }) {
  const desk = useStudyDesk(study);
  const navigate = useNavigate();
  const surround = usePreferences((s) => s.surround);
  const [mode, setMode] = useState<Mode>("divider");
  const [divider, setDivider] = useState(0.5);
  const [view, setView] = useState<View | null>(null);
  const stage = useRef<HTMLDivElement>(null);
  const room = useElementSize(stage);
  const done = (desk.sweep?.takes ?? []).filter((t) => t.state === "done");
  const take = desk.take?.state === "done" ? desk.take : (done.find((t) => desk.marks.get(t.id)?.value === "keep") ?? done[0]);
  const { pick, picked } = desk;
  useEffect(() => {
    if (take && take.id !== picked) pick(take.id);
  });

  const picture: Size = { width: take?.width ?? 1, height: take?.height ?? 1 };
  const pane: Size = mode === "pair" ? { width: room.width / 2, height: room.height } : room;
  const current = view ?? fitted(picture, pane, 24);
  const zoom = (scale: number) => setView(zoomedInMiddle(current, pane, scale));
  const change = (next: Mode) => {
    setMode(next);
    // A pane of another width shows the same spot in its middle.
    const width = next === "pair" ? room.width / 2 : room.width;
    if (view) setView({ ...view, x: view.x + (width - pane.width) / 2 });
  };
  const go = (by: number) => {
    const at = done.findIndex((t) => t.id === take?.id);
    const next = done[at + by];
    if (next) pick(next.id);
  };
  const back = () => void navigate(`/study/${study.id}`);

  useKeys(
    {
      ...desk.keys,
      d: () => change("divider"),
      p: () => change("pair"),
      o: () => change("alone"),
      0: () => setView(null),
      1: () => setView(centred(picture, pane, 1)),
      "+": () => zoom(nextScale(current.scale, true)),
      "=": () => zoom(nextScale(current.scale, true)),
      "-": () => zoom(nextScale(current.scale, false)),
      "[": () => setDivider((v) => Math.max(0, v - 0.05)),
      "]": () => setDivider((v) => Math.min(1, v + 0.05)),
      ArrowLeft: () => go(-1),
      ArrowRight: () => go(1),
      Escape: back,
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
  const axes = desk.sweep.spans;
  return (
    <div className="flex min-h-0 flex-1">
      <main className={`flex min-w-0 flex-1 flex-col ${SURROUND_CLASS[surround]}`}>
        <div className="flex items-center gap-3 border-b border-rule bg-paper px-4 py-1.5 text-ink">
          <div role="group" aria-label="Comparison" className="flex rounded-md border border-rule bg-sheet p-0.5">
            {MODES.map((m) => (
              <button
                key={m.mode}
                type="button"
                aria-pressed={mode === m.mode}
                title={`${m.title} (${m.key})`}
                onClick={() => change(m.mode)}
                className={`h-7 rounded px-3 font-semibold ${mode === m.mode ? "bg-deep text-white" : "hover:bg-glow"}`}
              >
                {m.title}
              </button>
            ))}
          </div>
          <Button
            aria-pressed={desk.blinking}
            title="Hold to see the source (B)"
            onPointerDown={() => desk.keys.b?.(new KeyboardEvent("keydown"))}
            onPointerUp={() => desk.keysUp.b?.(new KeyboardEvent("keyup"))}
            onPointerLeave={() => desk.keysUp.b?.(new KeyboardEvent("keyup"))}
          >
            Blink
          </Button>
          <div role="group" aria-label="Zoom" className="ml-auto flex items-center gap-1">
            <span className="w-14 text-right font-semibold" data-testid="zoom">{Math.round(current.scale * 100)} %</span>
            <Button weight="quiet" title="Fit (0)" onClick={() => setView(null)}>Fit</Button>
            {[1, 2, 4].map((scale) => (
              <Button key={scale} weight="quiet" className="px-2" onClick={() => zoom(scale)}>
                {scale * 100}
              </Button>
            ))}
          </div>
        </div>
        <div ref={stage} className="flex min-h-0 flex-1 flex-col">
          <Stage
            mode={mode}
            picture={picture}
            source={sourceImage(desk.source, take.recipe.size ?? 512)}
            take={takeImage(take.id)}
            blinking={desk.blinking}
            divider={divider}
            onDivider={setDivider}
            view={view}
            onView={setView}
          />
        </div>
        <nav aria-label="Takes of this sweep" className="flex gap-2 overflow-x-auto border-t border-rule bg-paper px-4 py-2 text-ink">
          {desk.sweep.takes.map((t, i) =>
            t.state === "done" ? (
              <button
                key={`${t.id}-${i}`}
                type="button"
                aria-current={t.id === take.id}
                onClick={() => pick(t.id)}
                className={`shrink-0 rounded-sm text-xs ${t.id === take.id ? "outline-2 outline-offset-1 outline-amber" : ""}`}
              >
                <img src={takePreview(t.id)} alt="" className="block h-12" draggable={false} />
                <span className="flex items-center justify-center gap-1">
                  {axes.map((a, k) => labelOf(a.control, a.values[k === axes.length - 1 ? i % a.values.length : Math.floor(i / axes[1]!.values.length)]!)).reverse().join(", ") || "take"}
                  <MarkDot value={desk.marks.get(t.id)?.value} />
                </span>
              </button>
            ) : null,
          )}
        </nav>
      </main>
      <TakePanel
        take={take}
        source={desk.source}
        mark={desk.marks.get(take.id)}
        choices={choices}
        onMark={desk.setMark}
        onCopy={desk.copy}
        empty=""
      />
    </div>
  );
}
