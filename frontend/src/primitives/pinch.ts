/** A pinch of a matrix of cells, in pixels of the window. */
export interface Pinch {
  /** Width of a cell by now. */
  wide: number;
  /** Where the hand is, and over which place of the matrix, counted in cells. */
  hand: { x: number; y: number };
  point: { x: number; y: number };
  /** Where the first cell began, and where it is by now. */
  from: { x: number; y: number };
  at: { x: number; y: number };
  /** Cells from one to the next by now. */
  step: { x: number; y: number };
}

interface Laid {
  cell: { width: number; height: number };
  step: { x: number; y: number };
  columns: number;
  rows: number;
}

/** What a pinch has come to: cells `wide`, and what was under the hand still under it, as far as the view allows. */
export function pinched(pinch: Pinch, hand: { x: number; y: number }, wide: number, laid: Laid, view: { left: number; top: number; right: number; bottom: number }): Pinch {
  const gap = laid.step.x - laid.cell.width;
  // Between rows there may be their labels too.
  const rise = laid.step.y - laid.cell.height;
  const step = { x: wide + gap, y: (wide * laid.cell.height) / laid.cell.width + rise };
  const point = { x: (hand.x - pinch.at.x) / pinch.step.x, y: (hand.y - pinch.at.y) / pinch.step.y };
  const at = {
    x: within(hand.x - point.x * step.x, laid.columns * step.x - gap, view.left, view.right, true),
    y: within(hand.y - point.y * step.y, laid.rows * step.y - gap, view.top, view.bottom, false),
  };
  return { wide, hand, point, from: pinch.from, at, step };
}

/** Where something `long` may begin so that it leaves no room empty that it could fill; if all of it fits, at `low` or in the middle. */
function within(begin: number, long: number, low: number, high: number, centred: boolean): number {
  const first = centred ? low + Math.max((high - low - long) / 2, 0) : low;
  return Math.min(Math.max(begin, Math.min(high - long, first)), first);
}
