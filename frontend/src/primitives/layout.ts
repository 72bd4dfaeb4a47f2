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

/** Where the source goes, so that the takes become as large as they can and the source at least as large as they. */
export function matrixLayout(
  columns: number,
  rows: number,
  room: { width: number; height: number },
  aspect: number,
  gap: number,
  bar: number,
  side: number,
  bounds: { least: number; largest: number },
): Matrix {
  const head = { width: room.width - side, height: room.height - bar };
  const beside = matrixCells(columns + 1, rows, head, aspect, gap, bounds);
  // Above: the source takes one more row, and what the rows leave.
  const below = matrixCells(columns, rows + 1, { width: head.width, height: head.height - bar }, aspect, gap, bounds);
  if (below.width > beside.width * 1.04) {
    const left = room.height - bar * 2 - rows * (below.height + gap);
    const sourceWidth = Math.floor(Math.min(Math.max(left * aspect, below.width), bounds.largest, room.width));
    return { source: "above", sourceWidth, cell: below };
  }
  const left = room.width - side - columns * (beside.width + gap);
  const sourceWidth = Math.floor(Math.min(Math.max(left, beside.width), bounds.largest, head.height * aspect));
  return { source: "left", sourceWidth, cell: beside };
}
