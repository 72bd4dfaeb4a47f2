import { useRef, useState } from "react";
import { useKeys } from "../../common/keys";
import { SURROUND_CLASS, usePreferences } from "../../common/preferences";
import { useElementSize } from "../../common/useElementSize";
import type { Divider } from "../../primitives/divide";
import { centred, fitted, type Size, type View } from "../../primitives/view";
import { Button } from "../../ui/Button";
import { Picker } from "../../ui/Picker";
import { MARGIN, MOST_FIT, nextScale, paneOf, Stage, zoomedInMiddle, type Mode, type Shot } from "../bench/Stage";

const SCALES = [1, 2, 4] as const;
const MOST = 4;

interface Props {
  /** The first is what the others came from. */
  shots: Shot[];
  picture: Size;
}

/** Up to four pictures of one size under one zoom, or a divider between any two. */
export function Compare({ shots, picture }: Props) {
  const surround = usePreferences((s) => s.surround);
  const [mode, setMode] = useState<Mode>("pair");
  const [view, setView] = useState<View | null>(null);
  const [divider, setDivider] = useState<Divider>({ at: 0.5, angle: 0 });
  const [left, setLeft] = useState<string | null>(null);
  const [right, setRight] = useState<string | null>(null);
  const stage = useRef<HTMLDivElement>(null);
  const room = useElementSize(stage);
  const shown = shots.slice(0, MOST + 1);
  const one = shown.find((shot) => shot.id === left) ?? shown[0]!;
  const other = shown.find((shot) => shot.id === right && shot.id !== one.id) ?? shown.find((shot) => shot.id !== one.id) ?? one;
  // Of four and more the picture that they came from gives its place away.
  const beside = shown.length > MOST ? shown.slice(1) : shown;
  const against = mode === "divider" ? one : beside[0]!;
  const takes = mode === "divider" ? [other] : beside.slice(1);
  const pane = paneOf(mode, takes.length, room);
  const current = view ?? fitted(picture, pane, MARGIN, MOST_FIT);
  const zoom = (scale: number) => setView(zoomedInMiddle(current, pane, scale));
  useKeys({
    d: () => setMode("divider"),
    p: () => setMode("pair"),
    0: () => setView(null),
    "+": () => zoom(nextScale(current.scale, true)),
    "=": () => zoom(nextScale(current.scale, true)),
    "-": () => zoom(nextScale(current.scale, false)),
  });
  const options = shown.map((shot) => ({ value: shot.id, title: shot.label, detail: "" }));
  return (
    <main className={`flex min-w-0 flex-1 flex-col ${SURROUND_CLASS[surround]}`} aria-label="Compared">
      <div className="flex h-8 shrink-0 items-center gap-1.5 px-2">
        {shown.length > 1 && (
          <>
            <Button weight="over" aria-pressed={mode === "pair"} title="Side by side (P)" onClick={() => setMode("pair")}>Side by side</Button>
            <Button weight="over" aria-pressed={mode === "divider"} title="A divider between any two (D)" onClick={() => setMode("divider")}>Divider</Button>
          </>
        )}
        {mode === "divider" && shown.length > 1 && (
          <>
            <span className="w-40"><Picker over label="Left of the divider" value={one.id} options={options} onPick={setLeft} /></span>
            <span className="w-40"><Picker over label="Right of the divider" value={other.id} options={options} onPick={setRight} /></span>
          </>
        )}
        <span className="ml-auto tabular-nums">{Math.round(current.scale * 100)} %</span>
        <Button weight="over" onClick={() => setView(null)}>Fit</Button>
        {SCALES.map((scale) => (
          <Button key={scale} weight="over" onClick={() => setView(view ? zoomedInMiddle(current, pane, scale) : centred(picture, pane, scale))}>{scale * 100} %</Button>
        ))}
      </div>
      <div ref={stage} className="flex min-h-0 flex-1 flex-col">
        <Stage
          mode={shown.length < 2 ? "alone" : mode} picture={picture} against={against} takes={shown.length < 2 ? [one] : takes} blinking={false} over={null} overlay={null} worst={null}
          divider={divider} onDivider={setDivider} view={view} onView={setView} onPoint={() => undefined}
        />
      </div>
    </main>
  );
}
