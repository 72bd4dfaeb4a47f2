import { AxisBottom, AxisLeft } from "@visx/axis";
import { scaleLinear } from "@visx/scale";
import { useRef, useState, type PointerEvent } from "react";
import type { MarkValue, MarkView, StudyView, TakeView } from "../../api/client";
import { useElementSize } from "../../common/useElementSize";
import { BOTTOM_TICKS, LEFT_TICKS, TICKS } from "./ticks";

interface Props {
  study: StudyView;
  /** The sweep on the sheet: its takes are told from the others. */
  sweepId: string;
  marks: Map<string, MarkView>;
  picked: string | undefined;
  chosen: string[];
  onPick: (take: string, sweep: string) => void;
  onChoose: (takes: string[]) => void;
}

interface Dot {
  take: TakeView;
  sweep: string;
  here: boolean;
  x: number;
  y: number;
}

const HEIGHT = 176;
const MARGIN = { left: 44, right: 16, top: 8, bottom: 40 };

/** Every read take of the study: composition kept across, look reached up. A dragged box chooses takes of this sheet. */
export function Scatter({ study, sweepId, marks, picked, chosen, onPick, onChoose }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const { width } = useElementSize(frame);
  const [box, setBox] = useState<{ x0: number; y0: number; x1: number; y1: number } | null>(null);
  const dots = dotsOf(study, sweepId);
  const low = Math.max(0, Math.floor((Math.min(100, ...dots.map((d) => d.x)) - 4) / 10) * 10);
  const x = scaleLinear<number>({ domain: [low, 100], range: [MARGIN.left, Math.max(width - MARGIN.right, MARGIN.left + 1)] });
  const y = scaleLinear<number>({ domain: [0, 100], range: [HEIGHT - MARGIN.bottom, MARGIN.top] });
  const at = (event: PointerEvent): [number, number] => {
    const rect = frame.current!.getBoundingClientRect();
    return [event.clientX - rect.left, event.clientY - rect.top];
  };
  const finish = () => {
    if (box) {
      const [left, right] = [Math.min(box.x0, box.x1), Math.max(box.x0, box.x1)];
      const [top, bottom] = [Math.min(box.y0, box.y1), Math.max(box.y0, box.y1)];
      if (right - left > 4 || bottom - top > 4) onChoose(dots.filter((d) => d.here && x(d.x) >= left && x(d.x) <= right && y(d.y) >= top && y(d.y) <= bottom).map((d) => d.take.id));
    }
    setBox(null);
  };
  return (
    <div ref={frame} data-testid="scatter" className="relative min-w-0 touch-none select-none">
      {width > 0 && (
        <svg
          width={width}
          height={HEIGHT}
          role="img"
          aria-label="Takes of the study by composition kept and look reached; drag a box to choose some"
          className="block cursor-crosshair"
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            const [px, py] = at(event);
            setBox({ x0: px, y0: py, x1: px, y1: py });
          }}
          onPointerMove={(event) => {
            if (!box) return;
            const [px, py] = at(event);
            setBox({ ...box, x1: px, y1: py });
          }}
          onPointerUp={finish}
        >
          <AxisLeft left={MARGIN.left} scale={y} tickValues={[0, 50, 100]} {...LEFT_TICKS} label="look reached" labelProps={{ ...TICKS, textAnchor: "middle" }} labelOffset={22} />
          <AxisBottom top={HEIGHT - MARGIN.bottom} scale={x} numTicks={6} {...BOTTOM_TICKS} label="composition kept" labelProps={{ ...TICKS, textAnchor: "middle" }} labelOffset={4} />
          {[...dots].sort((a, b) => Number(a.here) - Number(b.here)).map((d) => (
            <g
              key={d.take.id + d.sweep}
              data-dot={d.here ? "here" : "elsewhere"}
              transform={`translate(${x(d.x)} ${y(d.y)})`}
              opacity={d.here ? 1 : 0.4}
              className="cursor-pointer"
              onPointerDown={(event) => event.stopPropagation()}
              onClick={() => onPick(d.take.id, d.sweep)}
            >
              {(d.take.id === picked || chosen.includes(d.take.id)) && <circle r={8} fill="none" stroke="var(--color-amber)" strokeWidth={2} />}
              <MarkShape value={marks.get(d.take.id)?.value ?? null} />
              <title>{`strength ${(d.take.recipe.strength ?? 0).toFixed(2)}, seed ${d.take.recipe.seed}: composition ${Math.round(d.x)}, look ${Math.round(d.y)}${d.here ? "" : " (another sweep)"}`}</title>
            </g>
          ))}
          {box && <rect x={Math.min(box.x0, box.x1)} y={Math.min(box.y0, box.y1)} width={Math.abs(box.x1 - box.x0)} height={Math.abs(box.y1 - box.y0)} fill="var(--color-lamp)" opacity={0.35} />}
        </svg>
      )}
    </div>
  );
}

/** Told apart by shape as well as colour: full, half, crossed, hollow. */
function MarkShape({ value }: { value: MarkValue | null }) {
  if (value === "drop") return <path d="M-4 -4l8 8M4 -4l-8 8" stroke="var(--color-faint)" strokeWidth={2} />;
  return (
    <>
      <circle r={4.5} fill={value === "keep" ? "var(--color-lamp)" : "var(--color-sheet)"} stroke={value ? "var(--color-deep)" : "var(--color-teal)"} strokeWidth={1.5} />
      {value === "maybe" && <path d="M0 -4.5a4.5 4.5 0 0 1 0 9z" fill="var(--color-lamp)" />}
    </>
  );
}

/** Each read take once; those of the sheet as the sheet's. */
function dotsOf(study: StudyView, sweepId: string): Dot[] {
  const found = new Map<string, Dot>();
  const ordered = [...study.sweeps].sort((a, b) => Number(b.id === sweepId) - Number(a.id === sweepId));
  for (const sweep of ordered) {
    for (const take of sweep.takes) {
      if (!found.has(take.id) && typeof take.readings?.figures.look === "number") {
        found.set(take.id, { take, sweep: sweep.id, here: sweep.id === sweepId, x: take.readings.figures.composition ?? 0, y: take.readings.figures.look });
      }
    }
  }
  return [...found.values()];
}
