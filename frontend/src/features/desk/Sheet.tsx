import { useRef } from "react";
import { sourceImage, takePreview, takeImage, type MarkView, type SourceView, type SweepView, type TakeView } from "../../api/client";
import { useElementSize } from "../../app/useElementSize";
import { largestCells, matrixLayout, type Fit } from "../../primitives/layout";
import { infoOf, labelOf } from "./controls";
import { MarkDot } from "./MarkDot";

interface Props {
  sweep: SweepView;
  source: SourceView;
  marks: Map<string, MarkView>;
  picked: string | undefined;
  blinking: boolean;
  onPick: (take: string) => void;
  onOpen: (take: string) => void;
}

const GAP = 8;
const BAR = 22;
const PADDING = 16;
const MATRIX_LEAST = 72;
const SIDE = 84;

/** A sweep laid out: source first, takes by axis, labelled. Cells grow into the room there is. */
export function Sheet(props: Props) {
  const { sweep } = props;
  const frame = useRef<HTMLDivElement>(null);
  const size = useElementSize(frame);
  const room = { width: size.width - 2 * PADDING, height: size.height - 2 * PADDING };
  const first = sweep.takes[0];
  const aspect = first ? first.width / first.height : 1;
  const largest = first?.width ?? 512;
  const [rows, columns] = sweep.spans.length === 2 ? [sweep.spans[0]!, sweep.spans[1]!] : [null, sweep.spans[0] ?? null];

  return (
    <div ref={frame} role="grid" aria-label="Sheet" className="min-h-0 flex-1 overflow-auto" style={{ padding: PADDING }}>
      {size.width > 0 &&
        (rows && columns ? (
          <Matrix {...props} rows={rows} columns={columns} room={room} aspect={aspect} largest={largest} />
        ) : (
          <Run {...props} room={room} aspect={aspect} largest={largest} />
        ))}
    </div>
  );
}

interface Room {
  room: { width: number; height: number };
  aspect: number;
  largest: number;
}

/** One axis: pictures in reading order, as large as the room allows. */
function Run(props: Props & Room) {
  const { sweep, source } = props;
  const fit = largestCells(sweep.takes.length + 1, props.room, props.aspect, GAP, BAR, props.largest);
  const span = sweep.spans[0];
  return (
    <div className="mx-auto flex min-h-full flex-wrap content-center justify-start" style={{ gap: GAP, maxWidth: fit.columns * (fit.width + GAP) }}>
      <SourceCell source={source} size={sweep.recipe.size ?? 512} fit={fit} />
      {sweep.takes.map((take, i) => (
        <Cell key={take.id} {...props} take={take} fit={fit} label={span ? `${infoOf(span.control)?.label ?? ""} ${labelOf(span.control, span.values[i]!)}`.trim() : "take"} />
      ))}
    </div>
  );
}

type Axis = SweepView["spans"][number];

/** Two axes: the source pinned beside or above, columns and rows labelled. */
function Matrix(props: Props & Room & { rows: Axis; columns: Axis }) {
  const { sweep, source, rows, columns, room, aspect } = props;
  const layout = matrixLayout(columns.values.length, rows.values.length, room, aspect, GAP, BAR + 2, SIDE, {
    least: MATRIX_LEAST,
    largest: props.largest,
  });
  const fit = layout.cell;
  const sourceFit = { columns: 1, width: layout.sourceWidth, height: Math.round(layout.sourceWidth / aspect) };
  const pinned = (
    <div className={`z-20 self-start ${layout.source === "left" ? "sticky left-0" : ""}`} style={{ paddingLeft: layout.source === "left" ? 0 : SIDE, paddingTop: layout.source === "left" ? GAP : 0 }}>
      <SourceCell source={source} size={sweep.recipe.size ?? 512} fit={sourceFit} />
    </div>
  );
  return (
    <div className={`mx-auto flex w-max ${layout.source === "above" ? "flex-col gap-1" : ""}`}>
      {pinned}
      <div className="grid" style={{ gap: GAP, gridTemplateColumns: `${SIDE - GAP}px repeat(${columns.values.length}, ${fit.width}px)` }}>
        <div className="self-end text-right text-xs leading-4 opacity-85">{infoOf(columns.control)?.label ?? columns.control}</div>
        {columns.values.map((value) => (
          <div key={String(value)} role="columnheader" className="self-end text-center leading-4 font-semibold">
            {labelOf(columns.control, value)}
          </div>
        ))}
        {rows.values.map((value, r) => [
          <div key={`row${value}`} role="rowheader" className="self-center text-right text-[13px] leading-4">
            <span className="text-xs opacity-85">{infoOf(rows.control)?.label ?? rows.control}</span>
            <br />
            <span className="font-semibold">{labelOf(rows.control, value)}</span>
          </div>,
          ...columns.values.map((_, c) => {
            const take = sweep.takes[r * columns.values.length + c]!;
            return <Cell key={`${r}-${c}`} {...props} take={take} fit={fit} label="" />;
          }),
        ])}
      </div>
    </div>
  );
}

function SourceCell({ source, size, fit }: { source: SourceView; size: number; fit: Fit }) {
  return (
    <figure className="m-0">
      <figcaption className="flex items-center truncate text-[13px]" style={{ height: BAR, width: fit.width }}>
        source
      </figcaption>
      <img src={sourceImage(source, size)} alt={`Source ${source.name}`} width={fit.width} height={fit.height} draggable={false} className="block" />
    </figure>
  );
}

function Cell({ take, fit, label, source, sweep, marks, picked, blinking, onPick, onOpen }: Props & { take: TakeView; fit: Fit; label: string }) {
  const mark = marks.get(take.id);
  const on = picked === take.id;
  const words = `${label || "take"}, ${stateWords(take)}${mark?.value ? `, ${mark.value}` : ""}`;
  const src = fit.width * window.devicePixelRatio > 640 ? takeImage(take.id) : takePreview(take.id);
  return (
    <div className={mark?.value === "drop" ? "opacity-45" : ""}>
      {label && (
        <div className="flex items-center gap-1.5 truncate text-[13px]" style={{ height: BAR, width: fit.width }}>
          {label}
          <MarkDot value={mark?.value ?? null} />
        </div>
      )}
      <button
        type="button"
        role="gridcell"
        aria-label={words}
        aria-selected={on}
        data-take={take.id}
        data-state={take.state}
        onClick={() => onPick(take.id)}
        onDoubleClick={() => onOpen(take.id)}
        className={`cell relative block ${on ? "picked" : ""}`}
        style={{ width: fit.width, height: fit.height }}
      >
        {take.state === "done" ? (
          <>
            <img src={src} alt="" width={fit.width} height={fit.height} draggable={false} className="block" />
            {on && (
              <img
                src={sourceImage(source, sweep.recipe.size ?? 512)}
                alt=""
                width={fit.width}
                height={fit.height}
                draggable={false}
                className={`absolute inset-0 ${blinking ? "" : "invisible"}`}
              />
            )}
          </>
        ) : (
          <Waiting take={take} />
        )}
        {!label && mark?.value && (
          <span className="absolute top-1 left-1">
            <MarkDot value={mark.value} />
          </span>
        )}
      </button>
    </div>
  );
}

function stateWords(take: TakeView): string {
  if (take.state === "running") return `step ${take.step} of ${take.steps}`;
  return { queued: "waiting", done: "done", failed: "failed", stopped: "stopped" }[take.state];
}

/** A cell before its take is there: a tide that rises with the steps. */
function Waiting({ take }: { take: TakeView }) {
  const share = take.steps ? take.step / take.steps : 0;
  return (
    <span className="absolute inset-0 flex items-center justify-center overflow-hidden bg-black/15 p-2 text-[13px]">
      {take.state === "running" && (
        <span className="absolute inset-x-0 bottom-0 bg-white/25 transition-[height] duration-150" style={{ height: `${share * 100}%` }} />
      )}
      <span className="relative text-center">
        {take.state === "failed" ? take.fault : take.state === "queued" ? "waiting" : take.state === "stopped" ? "stopped; run again to finish" : `${take.step} of ${take.steps}`}
      </span>
    </span>
  );
}
