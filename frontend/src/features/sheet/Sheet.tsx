import { memo, useEffect, useMemo, useRef } from "react";
import { sourceImage, type MarkView, type SourceView, type SweepView, type TakeView } from "../../api/client";
import { useElementSize } from "../../common/useElementSize";
import { useStable } from "../../common/useStable";
import type { Arranged } from "../../primitives/arrange";
import { differing, flat } from "../../primitives/differences";
import { roomBesidePanel, sheetLayout, type SheetLayout } from "../../primitives/layout";
import type { Spot } from "../../primitives/spot";
import { axisName } from "../../study/controls";
import { useLabels } from "../../study/useLabels";
import { SIDE_WIDTH } from "../../primitives/aside";
import type { Box } from "../../ui/Boxed";
import { Cell, pictureClass, type PictureClass } from "./Cell";
import { useCellWidth } from "./cellWidth";
import { labelSteps, RIM, useCellZoom } from "./useCellZoom";
import { SourceCell } from "./SourceCell";
import { useTellColumns } from "./useTellColumns";
import { useSpot } from "./useSpot";
import { useWindow } from "./useWindow";

interface Props {
  sweep: SweepView;
  source: SourceView;
  sources: SourceView[];
  arranged: Arranged<TakeView>;
  marks: Map<string, MarkView>;
  picked: string | undefined;
  chosen: string[];
  blinking: boolean;
  /** Readings in the cells. */
  reading: boolean;
  /** Takes stand in the order of their axes. */
  ordered: boolean;
  /** A place of the source to box. */
  region: Box | null;
  /** One spot that every cell shows enlarged. */
  spot: Spot | null;
  onSpot: (spot: Spot) => void;
  onPoint: (x: number, y: number) => void;
  onPick: (take: string, event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => void;
  onOpen: (take: string) => void;
  /** How many cells stand in a row. */
  onColumns: (columns: number) => void;
}

/** Runs have captions and marks between pictures; the pictures of a matrix stand close, so that they are as large as they can be. */
const GAPS = { run: 8, matrix: 4 };
const MEASURE = { bar: 20, side: 84, least: 72 };
// Cells of a sheet of few are at least so wide, and scroll rather than shrink: smaller ones can't be judged.
const FEW = 64;
const LEAST_OF_FEW = 96;
/** Takes are enlarged so far where there are few of them, in times their size and in pixels. */
const MOST_ENLARGED = 2;
const LEAST_LARGEST = 1024;

/** A sweep laid out: the source pinned, takes by axis, labelled. Cells fill the room there is, or are as wide as wanted. */
export function Sheet(props: Props) {
  const { sweep, source, arranged, spot, onColumns, picked } = props;
  const wide = useCellWidth((s) => s.wide);
  const frame = useRef<HTMLDivElement>(null);
  const scroller = useRef<HTMLDivElement>(null);
  const plane = useRef<HTMLDivElement>(null);
  const size = useElementSize(frame);
  const sight = useElementSize(scroller);
  const first = sweep.takes[0];
  const natural = useMemo(() => ({ width: first?.width ?? 512, height: first?.height ?? 512 }), [first?.width, first?.height]);
  const gap = GAPS[arranged.kind];
  const layout = useMemo(() => {
    const count = { cells: arranged.cells.length, rows: arranged.rows?.values.length ?? 1, columns: arranged.columns?.values.length ?? 1 };
    const few = arranged.kind === "matrix" && count.rows * count.columns <= FEW;
    const measure = { ...MEASURE, gap, least: few ? LEAST_OF_FEW : MEASURE.least, largest: Math.max(natural.width * MOST_ENLARGED, LEAST_LARGEST) };
    // A pinned source has a rim of its own.
    const rims = arranged.kind === "matrix" ? { width: 3 * RIM - gap, height: 3 * RIM } : { width: 2 * RIM, height: 2 * RIM };
    const aspect = natural.width / natural.height;
    const room = roomBesidePanel(arranged.kind, count, { width: size.width - rims.width, height: size.height - rims.height }, aspect, SIDE_WIDTH, measure);
    return { ...sheetLayout(arranged.kind, count, room, aspect, wide, measure), beside: size.width - rims.width - room.width };
  }, [arranged, natural, size.width, size.height, wide, gap]);
  const shown = useWindow(scroller, layout, sight);
  const hands = useSpot({ frame, spot, natural, onSpot: props.onSpot, onPoint: props.onPoint });
  const inRow = arranged.kind === "matrix" ? layout.columns : layout.rows === 1 && props.ordered ? arranged.cells.length : null;
  const moved = useTellColumns(scroller, layout, inRow);
  useCellZoom(frame, scroller, plane, spot !== null, layout, arranged.kind === "matrix", moved);

  useEffect(() => onColumns(layout.columns), [layout.columns, onColumns]);
  const at = arranged.cells.findIndex((c) => c.take.id === picked);
  useEffect(() => {
    // The take under the hand comes into sight, whether keys or a chart led to it.
    const node = scroller.current;
    const cell = arranged.cells[at];
    if (!node || !cell) return;
    const { row, column } = placeIn(layout.columns, layout.source === "flow", arranged.kind, cell, at);
    const left = inSight(node.scrollLeft, node.clientWidth, column * layout.step.x, layout.step.x, layout.side + RIM, gap);
    const top = inSight(node.scrollTop, node.clientHeight, row * layout.step.y, layout.step.y, layout.head + RIM, gap);
    if (left !== node.scrollLeft || top !== node.scrollTop) node.scrollTo({ left, top });
    // Only when the hand moves to another take, not when the sheet does.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [picked]);

  const inFlow = layout.source === "flow";
  const sourceCell = <SourceCell source={source} holds={sweep.recipe.holds} take={first?.id} width={layout.sourceWidth} height={Math.round((layout.sourceWidth * natural.height) / natural.width)} bar={MEASURE.bar} region={props.region} spot={spot} natural={natural} />;
  const above = layout.source === "above";
  return (
    <div ref={frame} {...hands} role="grid" aria-label="Sheet" aria-multiselectable aria-rowcount={layout.rows} aria-colcount={layout.columns} className={`flex min-h-0 min-w-0 flex-1 overflow-hidden ${above ? "flex-col" : ""} ${spot ? "cursor-grab touch-none select-none" : ""}`}>
      {!inFlow && <div className="shrink-0" style={above ? { paddingLeft: layout.side + RIM, width: "100%", maxWidth: layout.side + layout.columns * layout.step.x + 2 * RIM, marginInline: "auto" } : { paddingTop: RIM + layout.over, paddingLeft: RIM }}>{sourceCell}</div>}
      <div ref={scroller} className="min-h-0 min-w-0 flex-1 overflow-auto [scrollbar-width:thin]">
        {size.width > 0 && <Plane {...props} at={plane} layout={layout} gap={gap} shown={shown} inFlow={inFlow && sourceCell} />}
      </div>
      {layout.beside > 0 && wide === null && <div aria-hidden className="shrink-0" style={{ width: layout.beside }} />}
    </div>
  );
}

/** Where to scroll so that a cell from `at`, `step` long, is seen behind labels of `head`; where it is if it is. */
function inSight(scrolled: number, extent: number, at: number, step: number, head: number, gap: number): number {
  const end = at + step - gap + head + RIM;
  if (at < scrolled) return at;
  return end > scrolled + extent ? end - extent : scrolled;
}

/** Row and column of a cell: its own in a matrix, by reading order in a run, where the source may come first. */
function placeIn(columns: number, flows: boolean, kind: "matrix" | "run", cell: { row: number; column: number }, index: number) {
  if (kind === "matrix") return cell;
  const place = index + (flows ? 1 : 0);
  return { row: Math.floor(place / columns), column: place % columns };
}

interface PlaneProps extends Props {
  at: React.RefObject<HTMLDivElement | null>;
  layout: SheetLayout;
  gap: number;
  shown: { rows: [number, number]; columns: [number, number] };
  inFlow: React.ReactNode;
}

/** The cells in sight, and the labels of rows and columns, which stay in view. */
function Plane({ at, layout, gap, shown, inFlow, ...props }: PlaneProps) {
  const { arranged, sources } = props;
  const onPick = useStable(props.onPick);
  const onOpen = useStable(props.onOpen);
  const onSpot = useStable(props.onSpot);
  const onPoint = useStable(props.onPoint);
  const onColumns = useStable(props.onColumns);
  const labelOf = useLabels();
  const { rows, columns } = arranged;
  const width = layout.columns * layout.step.x - gap;
  const height = layout.rows * layout.step.y - gap;
  const matrix = arranged.kind === "matrix" && rows && columns;
  return (
    <div ref={at} className="mx-auto box-content grid" style={{ padding: RIM, gridTemplateColumns: `${layout.side}px ${width}px`, gridTemplateRows: `${layout.head}px ${height}px`, width: layout.side + width, height: layout.head + height }}>
      {matrix && (
        <>
          <div className="surround sticky top-0 left-0 z-20 self-stretch pr-2 text-right text-xs leading-5 empty:hidden">{layout.side > 0 ? axisName(columns.control) : ""}</div>
          <div role="row" data-labels="columns" className="surround sticky top-0 z-10 col-start-2" style={labelSteps(layout.step.x, layout.cell.width)}>
            {columns.values.map((value, c) => (
              <div key={String(value)} role="columnheader" className="absolute top-0 truncate text-center leading-5 font-semibold" style={{ left: `calc(var(--shift) + ${c} * var(--step))`, width: "var(--cell)" }}>
                {labelOf(columns.control, value, columns.values)}
              </div>
            ))}
          </div>
          <RowLabels rows={rows} layout={layout} sources={sources} width={width} />
        </>
      )}
      {/* Placed by a grid whose tracks alone change with the size of cells: the cells' own styles stay as they are. */}
      <div data-cells className={`col-start-2 row-start-2 grid ${matrix ? "origin-top-left will-change-transform" : ""}`} style={{ gap, gridTemplateColumns: `repeat(${layout.columns}, ${layout.cell.width}px)`, gridTemplateRows: `repeat(${layout.rows}, ${layout.step.y - gap}px)` }}>
        {inFlow && <div className="col-start-1 row-start-1">{inFlow}</div>}
        <Cells
          {...props}
          kind={arranged.kind}
          columns={layout.columns}
          flows={layout.source === "flow"}
          over={layout.over}
          picture={pictureClass(layout.cell.width)}
          firstRow={shown.rows[0]}
          endRow={shown.rows[1]}
          firstColumn={shown.columns[0]}
          endColumn={shown.columns[1]}
          close={props.spot ? layout.cell : null}
          onPick={onPick}
          onOpen={onOpen}
          onSpot={onSpot}
          onPoint={onPoint}
          onColumns={onColumns}
        />
      </div>
    </div>
  );
}

interface RowLabelsProps {
  rows: NonNullable<Arranged<TakeView>["rows"]>;
  layout: SheetLayout;
  sources: SourceView[];
  width: number;
}

/** Labels of the rows: over a few of them, beside many; in view however the sheet is scrolled. */
function RowLabels({ rows, layout, sources, width }: RowLabelsProps) {
  const labelOf = useLabels();
  const beside = layout.side > 0;
  return (
    <div data-labels="rows" role="presentation" className={`sticky left-0 z-10 row-start-2 ${beside ? "surround col-start-1" : "pointer-events-none col-start-2 w-0"}`} style={labelSteps(layout.step.y, layout.cell.height)}>
      {rows.values.map((value, r) => {
        const own = beside && rows.control === "source" && sources.find((s) => s.id === value);
        const place = { top: `calc(var(--shift) + ${r} * var(--step))` };
        return beside ? (
          <div key={String(value)} id={rowId(r)} role="rowheader" className="absolute flex flex-col justify-center overflow-hidden pr-2 text-right text-[13px] leading-4" style={{ ...place, height: "var(--cell)", width: layout.side }}>
            {own && <img src={sourceImage(own, 256)} alt="" className="mb-1 max-h-[70%] w-full object-contain" />}
            <span className="text-xs">{axisName(rows.control)}</span>
            <span className="truncate font-semibold">{labelOf(rows.control, value, rows.values)}</span>
          </div>
        ) : (
          <div key={String(value)} id={rowId(r)} role="rowheader" className="absolute truncate text-[13px] leading-5 font-semibold whitespace-nowrap" style={{ ...place, maxWidth: width }}>
            <span className="font-normal">{axisName(rows.control)}</span> {labelOf(rows.control, value, rows.values)}
          </div>
        );
      })}
    </div>
  );
}

const rowId = (row: number) => `sheet-row-${row}`;

/** A label without the names of axes whose values speak for themselves. */
const shortened = (name: string): string => name.replace(/(^|, )(Look|Prompt|Sampler|Source) /g, "$1");

interface CellsProps extends Props {
  kind: "matrix" | "run";
  columns: number;
  flows: boolean;
  /** Room for the label over each row. */
  over: number;
  picture: PictureClass;
  firstRow: number;
  endRow: number;
  firstColumn: number;
  endColumn: number;
  /** The size of a cell, told only while cells show one spot enlarged. */
  close: { width: number; height: number } | null;
}

/** The cells in sight. Their places are in cells, not in pixels, so that a zoom leaves them as they are. */
const Cells = memo(function Cells({ kind, columns, flows, over, picture, firstRow, endRow, firstColumn, endColumn, close, ...props }: CellsProps) {
  const { arranged, sweep } = props;
  const labelOf = useLabels();
  // A sheet without axes, such as drafts that were finished, is labelled by what differs.
  const apart = sweep.spans.length > 0 ? [] : differing(sweep.takes.map((t) => t.recipe)).slice(0, 3);
  const nameOf = (place: number[], take: TakeView) =>
    (apart.length
      ? apart.map((c) => `${axisName(c)} ${labelOf(c, flat(take.recipe)[c] as string | number)}`)
      : sweep.spans.map((span, k) => `${axisName(span.control)} ${labelOf(span.control, span.values[place[k]!]!, span.values)}`).reverse()
    ).join(", ") || "take";
  const spot = props.spot && close && { ...props.spot, width: close.width, height: close.height };
  const inSight = arranged.cells
    .map((cell, index) => ({ cell, ...placeIn(columns, flows, kind, cell, index) }))
    .filter(({ row, column }) => row >= firstRow && row < endRow && column >= firstColumn && column < endColumn);
  return [...new Set(inSight.map(({ row }) => row))].map((row) => (
    <div key={row} role="row" aria-rowindex={row + 1} aria-owns={kind === "matrix" ? rowId(row) : undefined} className="contents">
      {inSight.filter((placed) => placed.row === row).map(({ cell, column }) => {
        const { take } = cell;
        const name = nameOf(cell.at, take);
        return (
          <Cell
            key={take.id + cell.at.join()}
            take={take}
            label={kind === "matrix" ? "" : shortened(name)}
            name={name}
            row={row}
            column={column}
            picture={picture}
            close={spot}
            bar={kind === "matrix" ? over : MEASURE.bar}
            captioned={kind === "run"}
            mark={props.marks.get(take.id)}
            picked={props.picked === take.id}
            chosen={props.chosen.includes(take.id)}
            blinking={props.blinking && props.picked === take.id}
            reading={props.reading}
            paused={sweep.paused}
            region={props.region}
            onPick={props.onPick}
            onOpen={props.onOpen}
          />
        );
      })}
    </div>
  ));
});
