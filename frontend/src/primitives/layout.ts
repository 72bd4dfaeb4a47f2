/** How a sheet's cells fill the room there is. */
export interface Fit {
  columns: number;
  width: number;
  height: number;
}

/**
 * The number of columns that makes `count` pictures of one shape as large as possible.
 *
 * `aspect` is width over height, `bar` the height of a label under each picture. Pictures are not enlarged
 * beyond `largest` pixels of width.
 */
export function largestCells(
  count: number,
  room: { width: number; height: number },
  aspect: number,
  gap: number,
  bar: number,
  largest: number,
): Fit {
  let best: Fit = { columns: 1, width: 0, height: 0 };
  for (let columns = 1; columns <= Math.max(count, 1); columns++) {
    const rows = Math.ceil(count / columns);
    const byWidth = (room.width - gap * (columns - 1)) / columns;
    const byHeight = ((room.height - gap * (rows - 1)) / rows - bar) * aspect;
    const width = Math.floor(Math.min(byWidth, byHeight, largest));
    if (width > best.width) best = { columns, width, height: Math.round(width / aspect) };
  }
  return best.width >= 1 ? best : { columns: 1, width: 1, height: 1 };
}

/** Cells of a matrix with fixed columns and rows; not smaller than `least`, so that a large sheet scrolls. */
export function matrixCells(
  columns: number,
  rows: number,
  room: { width: number; height: number },
  aspect: number,
  gap: number,
  bounds: { least: number; largest: number },
): Fit {
  const byWidth = (room.width - gap * (columns - 1)) / columns;
  const byHeight = ((room.height - gap * (rows - 1)) / rows) * aspect;
  const width = Math.floor(Math.min(Math.max(Math.min(byWidth, byHeight), bounds.least), bounds.largest));
  return { columns, width, height: Math.round(width / aspect) };
}

export interface Matrix {
  /** The source beside the takes, or above them when that leaves more room for the takes. */
  source: "left" | "above";
  sourceWidth: number;
  cell: Fit;
}

/** What a sheet's parts need besides its pictures, in pixels. */
export interface SheetMeasure {
  gap: number;
  /** A line of words: over a picture, over a row, over the columns. */
  bar: number;
  /** Labels of rows where they stand beside them. */
  side: number;
  least: number;
  largest: number;
}

/** So many rows have their labels over them, which leaves the width to the pictures; more have them beside. */
const MOST_LABELLED_OVER = 6;

/** Width of the source beside a sheet that is wider than its room. */
const BESIDE_SCROLLED = 200;

/** Where the source goes, so that the takes become as large as they can and the source at least as large as they. */
export function matrixLayout(columns: number, rows: number, room: { width: number; height: number }, aspect: number, m: SheetMeasure): Matrix {
  const over = rows <= MOST_LABELLED_OVER;
  const side = over ? 0 : m.side;
  const head = { width: room.width - side, height: room.height - m.bar - (over ? rows * m.bar : 0) };
  const beside = matrixCells(columns + 1, rows, head, aspect, m.gap, m);
  // Above: the source takes one more row, and what the rows leave.
  const below = matrixCells(columns, rows + 1, { width: head.width, height: head.height - m.bar }, aspect, m.gap, m);
  if (below.width > beside.width * 1.04) {
    const left = head.height - m.bar - rows * (below.height + m.gap);
    const sourceWidth = Math.floor(Math.min(Math.max(left * aspect, below.width), m.largest, room.width));
    return { source: "above", sourceWidth, cell: below };
  }
  const left = room.width - side - columns * (beside.width + m.gap);
  // Beside a sheet that scrolls the source is still large enough to compare with.
  const least = left < beside.width ? Math.max(beside.width, BESIDE_SCROLLED) : beside.width;
  const sourceWidth = Math.floor(Math.min(Math.max(left, least), m.largest, (room.height - m.bar) * aspect));
  return { source: "left", sourceWidth, cell: beside };
}

export interface SheetLayout {
  /** Where the source stands: as the first cell of a run that fits, or pinned beside or above what scrolls. */
  source: "flow" | "left" | "above";
  sourceWidth: number;
  cell: Fit;
  /** Cells from one to the next, with gap and label. */
  step: { x: number; y: number };
  /** Room for the labels of columns, and of rows where they stand beside them. */
  head: number;
  side: number;
  /** Room over each row of a matrix for its label; 0 where it stands beside. */
  over: number;
  columns: number;
  rows: number;
}

interface Count {
  cells: number;
  rows: number;
  columns: number;
}

/** Most of the room's width that a pinned source takes once cells are larger than the sheet. */
const MOST_SOURCE = 0.34;

/** How much of their width cells may lose so that what is said of a take finds room beside them. */
const WORTH = 0.9;

/** The room that a sheet's pictures are given: all of it, or what a panel `wide` leaves if that costs them little. */
export function roomBesidePanel(kind: "matrix" | "run", count: Count, room: { width: number; height: number }, aspect: number, panel: number, m: SheetMeasure): { width: number; height: number } {
  const narrow = { ...room, width: room.width - panel };
  if (narrow.width <= 0) return room;
  const [whole, less] = [room, narrow].map((r) => sheetLayout(kind, count, r, aspect, null, m)) as [SheetLayout, SheetLayout];
  // A sheet that scrolls anyway needs all the room.
  const scrolls = less.columns * less.step.x + less.side > narrow.width + m.gap || less.rows * less.step.y + less.head > narrow.height + m.gap;
  return !scrolls && less.cell.width >= whole.cell.width * WORTH ? narrow : room;
}

/**
 * Where everything of a sheet goes. `wide` is the width of a cell that the artist chose; null fills the room.
 */
export function sheetLayout(kind: "matrix" | "run", count: Count, room: { width: number; height: number }, aspect: number, wide: number | null, m: SheetMeasure): SheetLayout {
  if (kind === "matrix") {
    const fit = matrixLayout(count.columns, count.rows, room, aspect, m);
    const width = wide ?? fit.cell.width;
    const cell = { columns: count.columns, width, height: Math.round(width / aspect) };
    const whole = wide === null || wide <= fit.cell.width;
    const sourceWidth = whole ? fit.sourceWidth : Math.floor(Math.min(fit.sourceWidth, room.width * MOST_SOURCE, m.largest));
    const over = count.rows <= MOST_LABELLED_OVER ? m.bar : 0;
    return { source: whole ? fit.source : "left", sourceWidth, cell, step: { x: width + m.gap, y: cell.height + m.gap + over }, head: m.bar, side: over ? 0 : m.side, over, columns: count.columns, rows: count.rows };
  }
  const fit = largestCells(count.cells + 1, room, aspect, m.gap, m.bar, m.largest);
  const wanted = wide ?? Math.max(fit.width, m.least);
  const flows = wanted <= fit.width;
  const sourceWidth = flows ? wanted : Math.floor(Math.min(Math.max(wanted, 160), room.width * MOST_SOURCE, m.largest));
  const across = room.width - (flows ? 0 : sourceWidth + m.gap);
  const columns = flows && wide === null ? fit.columns : Math.max(1, Math.floor((across + m.gap) / (wanted + m.gap)));
  const height = Math.round(wanted / aspect);
  return {
    source: flows ? "flow" : "left",
    sourceWidth,
    cell: { columns, width: wanted, height },
    step: { x: wanted + m.gap, y: height + m.bar + m.gap },
    head: 0,
    side: 0,
    over: 0,
    columns,
    rows: Math.ceil((count.cells + (flows ? 1 : 0)) / columns),
  };
}

/** Which of `count` cells, `step` apart, lie in a window, with one more at each end; first and one past the last. */
export function inWindow(from: number, extent: number, step: number, count: number): [number, number] {
  const first = Math.max(Math.floor(from / step) - 1, 0);
  const end = Math.min(Math.ceil((from + extent) / step) + 1, count);
  return [Math.min(first, count), Math.max(end, Math.min(first, count))];
}

/** Size of two pictures of one shape in a room: side by side, or stacked where that makes them larger. */
export function liveFit(room: { width: number; height: number }, aspect: number, gap: number) {
  const label = 28;
  const beside = Math.min((room.width - gap) / 2, (room.height - label) * aspect);
  const stacked = Math.min(room.width, ((room.height - gap - 2 * label) / 2) * aspect);
  const width = Math.max(Math.floor(Math.max(beside, stacked)), 48);
  return { width, height: Math.round(width / aspect), stacked: stacked > beside };
}
