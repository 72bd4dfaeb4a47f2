import { AxisBottom, AxisLeft } from "@visx/axis";
import { scaleLinear } from "@visx/scale";
import { LinePath } from "@visx/shape";
import { useRef, useState, type PointerEvent } from "react";
import { takePreview, type RowTipView, type SweepView } from "../../api/client";
import { useElementSize } from "../../common/useElementSize";
import { tideRows, type TidePoint } from "../../primitives/tide";
import { infoOf } from "../../study/controls";
import { useLabels } from "../../study/useLabels";
import { BOTTOM_TICKS, LEFT_TICKS } from "./ticks";

interface Props {
  sweep: SweepView;
  tips: RowTipView[];
  picked: string | undefined;
  onPick: (take: string) => void;
  onBand: (low: number, high: number) => void;
}

const HEIGHT = 116;
/** Where no row has a tip the lines say little, and the sheet has the room. */
const CALM_HEIGHT = 84;
const MARGIN = { left: 38, right: 14, top: 8, bottom: 28 };
/** Dashes tell lines apart without colour. */
const DASHES = ["", "6 3", "2 3", "8 3 2 3", "1 4"];
const LEAST_BAND = 0.01;
/** Seeds of one point that are shown while the hand is on it. */
const MOST_SHOWN = 3;

/** Readings along strength: composition as a line a row, the tip marked, a band that is dragged out to sweep finer. */
export function TideChart({ sweep, tips, picked, onPick, onBand }: Props) {
  const height = tips.some((row) => row.tip?.outcome === "tip") ? HEIGHT : CALM_HEIGHT;
  const frame = useRef<HTMLDivElement>(null);
  const { width } = useElementSize(frame);
  const [band, setBand] = useState<[number, number] | null>(null);
  const labelOf = useLabels();
  const start = useRef<number | null>(null);
  const [pointed, setPointed] = useState<{ takes: string[]; x: number } | null>(null);
  const rows = tideRows(sweep.takes, sweep.spans, (control, value) => `${infoOf(control)?.label ?? control} ${labelOf(control, value, sweep.spans.find((s) => s.control === control)?.values)}`);
  const strengths = sweep.spans.find((s) => s.control === "strength")!.values.map(Number);
  const x = scaleLinear<number>({ domain: [Math.min(...strengths), Math.max(...strengths)], range: [MARGIN.left, Math.max(width - MARGIN.right, MARGIN.left + 1)] });
  const y = scaleLinear<number>({ domain: [0, 100], range: [height - MARGIN.bottom, MARGIN.top] });
  const at = (event: PointerEvent) => {
    const box = frame.current!.getBoundingClientRect();
    const [low, high] = x.domain() as [number, number];
    return Math.min(Math.max(Math.round(x.invert(event.clientX - box.left) * 100) / 100, low), high);
  };
  const tip = tips.find((row) => row.tip?.outcome === "tip")?.tip;
  return (
    <div ref={frame} data-testid="tide" className="relative min-w-0 touch-none select-none">
      {width > 0 && rows.length > 0 && (
        <svg
          width={width}
          height={height}
          role="img"
          aria-label="Composition kept along strength; drag out a band to sweep it finer"
          className="block cursor-crosshair"
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            start.current = at(event);
          }}
          onPointerMove={(event) => {
            if (start.current !== null) setBand([Math.min(start.current, at(event)), Math.max(start.current, at(event))]);
          }}
          onPointerUp={() => {
            start.current = null;
            if (band && band[1] - band[0] >= LEAST_BAND) onBand(band[0], band[1]);
            setBand(null);
          }}
        >
          {tip && (
            <>
              <rect x={x(x.domain()[0]!)} y={MARGIN.top} width={Math.max(x(tip.low!) - x(x.domain()[0]!), 0)} height={height - MARGIN.top - MARGIN.bottom} fill="var(--color-shoal)" opacity={0.7} />
              <rect x={x(tip.low!)} y={MARGIN.top} width={Math.max(x(tip.high!) - x(tip.low!), 1)} height={height - MARGIN.top - MARGIN.bottom} fill="var(--color-glow)" />
              <line x1={x(tip.strength!)} x2={x(tip.strength!)} y1={MARGIN.top} y2={height - MARGIN.bottom} stroke="var(--color-amber)" strokeWidth={2} data-testid="tip-mark" />
            </>
          )}
          {band && <rect x={x(band[0])} y={MARGIN.top} width={x(band[1]) - x(band[0])} height={height - MARGIN.top - MARGIN.bottom} fill="var(--color-lamp)" opacity={0.45} data-testid="band" />}
          <AxisLeft left={MARGIN.left} scale={y} tickValues={[0, 50, 100]} {...LEFT_TICKS} />
          <AxisBottom top={height - MARGIN.bottom} scale={x} tickValues={strengths} tickFormat={(v) => Number(v).toFixed(2)} {...BOTTOM_TICKS} />
          {rows.map((row, i) => (
            <g key={row.name}>
              <LinePath<TidePoint> data={row.points.filter((p) => p.look !== null)} x={(p) => x(p.strength)} y={(p) => y(p.look!)} stroke="var(--color-faint)" strokeWidth={1} strokeDasharray="2 4" />
              <LinePath<TidePoint> data={row.points} x={(p) => x(p.strength)} y={(p) => y(p.composition)} stroke="var(--color-teal)" strokeWidth={2} strokeDasharray={DASHES[i % DASHES.length]} />
              {row.points.map((p) => {
                const on = picked !== undefined && p.takes.includes(picked);
                return (
                  <circle
                    key={p.strength}
                    cx={x(p.strength)}
                    cy={y(p.composition)}
                    r={on ? 5 : 3.5}
                    fill={on ? "var(--color-amber)" : "var(--color-sheet)"}
                    stroke={on ? "var(--color-amber)" : "var(--color-teal)"}
                    strokeWidth={2}
                    className="cursor-pointer"
                    onPointerDown={(event) => event.stopPropagation()}
                    onClick={() => onPick(p.takes[0]!)}
                    onPointerEnter={() => setPointed({ takes: p.takes, x: x(p.strength) })}
                    onPointerLeave={() => setPointed(null)}
                  >
                    <title>{`${row.name ? `${row.name}, ` : ""}strength ${p.strength.toFixed(2)}: composition ${Math.round(p.composition)}${p.look === null ? "" : `, look ${Math.round(p.look)}`}${p.takes.length > 1 ? `, ${p.takes.length} seeds` : ""}`}</title>
                  </circle>
                );
              })}
            </g>
          ))}
        </svg>
      )}
      {pointed && (
        <div className="pointer-events-none absolute bottom-full z-20 mb-1 flex -translate-x-1/2 gap-1 rounded-md border border-rule bg-sheet p-1 shadow-xl" style={{ left: Math.min(Math.max(pointed.x, 150), width - 150) }} data-testid="tide-takes">
          {pointed.takes.slice(0, MOST_SHOWN).map((id) => (
            <img key={id} src={takePreview(id)} alt="" className="h-24 rounded-sm" />
          ))}
        </div>
      )}
      {width > 0 && (
        <p className="pointer-events-none absolute -top-4 left-10 flex gap-3 rounded bg-paper px-1 text-[11px] text-faint">
          <span><i className="mr-1 inline-block w-4 border-t-2 border-teal align-middle" />composition kept</span>
          <span><i className="mr-1 inline-block w-4 border-t border-dashed border-faint align-middle" />look reached</span>
        </p>
      )}
    </div>
  );
}
