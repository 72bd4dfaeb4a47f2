import { LinePath } from "@visx/shape";
import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { RowTipView, SweepView } from "../../api/client";
import { useElementSize } from "../../common/useElementSize";
import type { TidePoint, TideRow } from "../../primitives/tide";
import { usePointed } from "../../study/pointed";
import { TideStrip } from "./TideStrip";
import { useAlong } from "./useAlong";

interface Props {
  sweep: SweepView;
  rows: TideRow[];
  /** The row that is looked at, drawn bold, and where it gives way. */
  bold: TideRow | undefined;
  tip: RowTipView["tip"] | undefined;
  strengths: number[];
  /** The strengths of the sheet's columns where takes stand in rows under it; null where they are wrapped. */
  columns: number[] | null;
  picked: string | undefined;
  onPick: (take: string) => void;
  onBand: (low: number, high: number) => void;
}

const HEIGHT = { under: 74, wrapped: 54 };
const MARGIN = { top: 7, bottom: 7 };
/** Dashes tell lines apart without colour. */
const DASHES = ["", "6 3", "2 3", "8 3 2 3", "1 4"];
const LEAST_BAND = 0.01;
/** What goes by itself beside the composition, thin, told apart by its dashes. */
const PARTS = [{ part: "subject", dash: "5 2 1 2" }, { part: "faces", dash: "1 2" }] as const;

/** Readings along strength under the sheet's columns: a line a row, the tip marked, a band that is dragged out to sweep finer. */
export function TideChart({ sweep, rows, bold, tip, strengths, columns, picked, onPick, onBand }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const { width } = useElementSize(frame);
  const { along, wrapped, left } = useAlong(strengths, columns, width);
  const height = wrapped ? HEIGHT.wrapped : HEIGHT.under;
  const { y, bottom } = heights(height);
  const hand = useBand(frame, along, onBand);
  const gives = tip?.outcome === "tip" ? tip : null;
  const plane = { y: MARGIN.top, height: bottom - MARGIN.top };
  const first = along.place(Math.min(...strengths));
  return (
    <div ref={frame} data-testid="tide" data-wrapped={wrapped || undefined} className="relative min-w-0 touch-none select-none">
      {width > 0 && (
        <svg width={width} height={height} role="group" aria-label="Composition kept along strength; drag out a band to sweep it finer" className="block cursor-crosshair" onKeyDown={walk} {...hand.on}>
          {gives && (
            <>
              <rect {...plane} x={first} width={Math.max(along.place(gives.low!) - first, 0)} fill="var(--color-shoal)" opacity={0.7} />
              <rect {...plane} x={along.place(gives.low!)} width={Math.max(along.place(gives.high!) - along.place(gives.low!), 1)} fill="var(--color-glow)" />
              <line x1={along.place(gives.strength!)} x2={along.place(gives.strength!)} y1={MARGIN.top} y2={bottom} stroke="var(--color-amber)" strokeWidth={2} data-testid="tip-mark" />
            </>
          )}
          {hand.band && <rect {...plane} x={along.place(hand.band[0])} width={along.place(hand.band[1]) - along.place(hand.band[0])} fill="var(--color-lamp)" opacity={0.45} data-testid="band" />}
          {[0, 50, 100].map((mark) => (
            <g key={mark} aria-hidden>
              <line x1={left} x2={width - 8} y1={y(mark)} y2={y(mark)} stroke="var(--color-rule)" strokeWidth={mark ? 0.5 : 1} />
              {mark !== 50 && <text x={left - 4} y={y(mark) + 4} textAnchor="end" fontSize={11} fill="var(--color-faint)">{mark}</text>}
            </g>
          ))}
          {[...rows].sort((a, b) => Number(a === bold) - Number(b === bold)).map((row) => (
            <Line key={row.name} row={row} bold={row === bold} dash={DASHES[rows.indexOf(row) % DASHES.length]!} x={along.place} y={y} picked={picked} onPick={onPick} />
          ))}
        </svg>
      )}
      {wrapped && bold && width > 0 && <TideStrip sweep={sweep} row={bold} place={along.place} picked={picked} onPick={onPick} />}
    </div>
  );
}

/** A piece of a part's line, for the legend. */
export const DashSample = ({ part }: { part: "subject" | "faces" }) => (
  <svg aria-hidden width={16} height={3} className="mr-1 inline-block align-middle"><line x1={0} x2={16} y1={1.5} y2={1.5} stroke="var(--color-teal)" strokeWidth={1.5} strokeDasharray={PARTS.find((p) => p.part === part)!.dash} /></svg>
);

const heights = (height: number) => {
  const bottom = height - MARGIN.bottom;
  return { bottom, y: (value: number) => bottom - (value / 100) * (bottom - MARGIN.top) };
};

interface LineProps {
  row: TideRow;
  bold: boolean;
  dash: string;
  x: (strength: number) => number;
  y: (reading: number) => number;
  picked: string | undefined;
  onPick: (take: string) => void;
}

/** One row of the sheet: what it kept, thinner how far it reached the look, a point a take. */
function Line({ row, bold, dash, x, y, picked, onPick }: LineProps) {
  const { take: pointed, point } = usePointed();
  const faint = bold ? 1 : 0.45;
  return (
    <g opacity={faint} role="group" aria-label={row.name || "Takes along strength"}>
      {bold && <LinePath<TidePoint> data={row.points.filter((p) => p.look !== null)} x={(p) => x(p.strength)} y={(p) => y(p.look!)} stroke="var(--color-faint)" strokeWidth={1} strokeDasharray="2 4" />}
      {bold && PARTS.map(({ part, dash: own }) => <LinePath<TidePoint> key={part} data={row.points.filter((p) => p[part] !== null)} x={(p) => x(p.strength)} y={(p) => y(p[part]!)} stroke="var(--color-teal)" strokeWidth={1.2} strokeDasharray={own} opacity={0.75} data-part={part} />)}
      <LinePath<TidePoint> data={row.points} x={(p) => x(p.strength)} y={(p) => y(p.composition)} stroke="var(--color-teal)" strokeWidth={bold ? 2 : 1.2} strokeDasharray={dash} />
      {row.points.map((p, i) => {
        const on = picked === p.take;
        const lit = pointed === p.take;
        return (
          <circle
            key={p.strength}
            role="button"
            aria-pressed={on}
            aria-label={pointWords(row, p)}
            tabIndex={bold && (on || (i === 0 && !row.points.some((q) => q.take === picked))) ? 0 : -1}
            data-point={p.take}
            cx={x(p.strength)}
            cy={y(p.composition)}
            r={on || lit ? 5.5 : bold ? 4 : 3}
            fill={on ? "var(--color-amber)" : lit ? "var(--color-lamp)" : "var(--color-sheet)"}
            stroke={on ? "var(--color-amber)" : "var(--color-teal)"}
            strokeWidth={2}
            className="cursor-pointer focus-visible:!outline-offset-0"
            onPointerDown={(event) => event.stopPropagation()}
            onClick={() => onPick(p.take)}
            onFocus={() => point(p.take)}
            onBlur={() => point(null)}
            onPointerEnter={() => point(p.take)}
            onPointerLeave={() => point(null)}
          >
            <title>{pointWords(row, p)}</title>
          </circle>
        );
      })}
    </g>
  );
}

const pointWords = (row: TideRow, p: TidePoint) =>
  `${row.name ? `${row.name}, ` : ""}strength ${p.strength.toFixed(2)}: composition ${Math.round(p.composition)}${p.subject === null ? "" : `, subject ${Math.round(p.subject)}`}${p.faces === null ? "" : `, faces ${Math.round(p.faces)}`}${p.look === null ? "" : `, look ${Math.round(p.look)}`}`;

/** Arrows go from point to point: along a line, and from line to line; Enter and the space bar pick. */
function walk(event: KeyboardEvent<SVGSVGElement>) {
  const at = (event.target as Element).closest<SVGElement>("[data-point]");
  if (!at) return;
  if (event.key === "Enter" || event.key === " ") {
    event.preventDefault();
    at.dispatchEvent(new MouseEvent("click", { bubbles: true }));
    return;
  }
  const by = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowDown: [0, 1], ArrowUp: [0, -1] }[event.key];
  if (!by) return;
  event.preventDefault();
  event.stopPropagation();
  const lines = [...event.currentTarget.querySelectorAll("g[role=group]")].map((g) => [...g.querySelectorAll<SVGElement>("[data-point]")]);
  const line = lines.findIndex((points) => points.includes(at));
  const next = lines[line + by[1]!]?.[lines[line]!.indexOf(at) + by[0]!];
  next?.focus();
}

/** A band of strengths that is being dragged out; told when the hand lets go. */
function useBand(frame: React.RefObject<HTMLDivElement | null>, along: { value: (place: number) => number }, onBand: (low: number, high: number) => void) {
  const [band, setBand] = useState<[number, number] | null>(null);
  const start = useRef<number | null>(null);
  const at = (event: PointerEvent) => Math.round(along.value(event.clientX - frame.current!.getBoundingClientRect().left) * 100) / 100;
  const on = {
    onPointerDown: (event: PointerEvent<SVGSVGElement>) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      start.current = at(event);
    },
    onPointerMove: (event: PointerEvent) => {
      if (start.current !== null) setBand([Math.min(start.current, at(event)), Math.max(start.current, at(event))]);
    },
    onPointerUp: () => {
      start.current = null;
      if (band && band[1] - band[0] >= LEAST_BAND) onBand(band[0], band[1]);
      setBand(null);
    },
    onPointerCancel: () => {
      start.current = null;
      setBand(null);
    },
  };
  return { band, on };
}
