/** In which order and where the takes of a sweep stand on its sheet. */

import type { Figures } from "./reading";

interface Taken {
  id: string;
  state: string;
  readings?: { figures: Figures } | null;
}

interface Axis {
  control: string;
  values: (number | string)[];
}

/** By axes, by both of composition and look, or by the name of a reading. */
export type Sort = string;

/** In which orders takes can be set: as swept, by both, and by each reading. */
export function sortsOf(kinds: { name: string; title: string }[]): { value: Sort; title: string; detail: string }[] {
  return [
    { value: "axes", title: "By axes", detail: "as it was swept" },
    { value: "both", title: "Both together", detail: "composition kept and look reached" },
    ...kinds.map(({ name, title }) => ({ value: name, title, detail: "most first" })),
  ];
}

export interface Placed<T> {
  take: T;
  /** Its place in the sweep: which value of each span, last span last. */
  at: number[];
  row: number;
  column: number;
}

export interface Arranged<T> {
  /** A matrix has rows and columns of their own; a run is set in reading order. */
  kind: "matrix" | "run";
  cells: Placed<T>[];
  rows: Axis | null;
  columns: Axis | null;
  pages: Axis | null;
}

/** The place of the k-th take of a sweep along its spans, the last varying fastest. */
export function placeOf(position: number, spans: Axis[]): number[] {
  const at = spans.map(() => 0);
  let rest = position;
  for (let k = spans.length - 1; k >= 0; k--) {
    const count = new Set(spans[k]!.values).size;
    at[k] = rest % count;
    rest = Math.floor(rest / count);
  }
  return at;
}

/** How much a take is worth in a sort; those that are not read come last. */
export function worth(take: Taken, sort: Sort): number {
  const read = take.readings;
  if (!read) return -1;
  if (sort !== "both") return read.figures[sort] ?? -1;
  const { composition, look } = read.figures;
  const kept = Math.max(composition ?? 0, 0);
  return look === null || look === undefined ? kept / 10 : Math.sqrt(kept * Math.max(look, 0));
}

/**
 * Lay a sweep's takes out.
 *
 * Two spans make a matrix, three a matrix of which one page is shown; one span, a sort, or a filter that leaves
 * some out of a sorted sheet make a run. `shown` says which takes are wanted; in a matrix the others leave holes.
 * `turned` changes rows and columns of a matrix.
 */
export function arrange<T extends Taken>(takes: T[], spans: Axis[], page: number, sort: Sort, shown: (take: T) => boolean, turned = false): Arranged<T> {
  const placed = takes.map((take, position) => ({ take, at: placeOf(position, spans), row: 0, column: 0 }));
  const pages = spans.length === 3 ? spans[0]! : null;
  if (spans.length >= 2 && sort === "axes") {
    const last = spans.length - 1;
    const [r, c] = turned ? [last, last - 1] : [last - 1, last];
    const cells = placed
      .filter((p) => (!pages || p.at[0] === page) && shown(p.take))
      .map((p) => ({ ...p, row: p.at[r]!, column: p.at[c]! }));
    return { kind: "matrix", cells, rows: unique(spans[r]!), columns: unique(spans[c]!), pages };
  }
  const wanted = placed.filter((p) => shown(p.take));
  if (sort !== "axes") wanted.sort((a, b) => worth(b.take, sort) - worth(a.take, sort));
  return { kind: "run", cells: wanted, rows: null, columns: spans.at(-1) ?? null, pages: null };
}

const unique = (axis: Axis): Axis => ({ ...axis, values: [...new Set(axis.values)] });

/** The take that an arrow key leads to: along the axes in a matrix, in reading order in a run. */
export function takeBeside<T extends Taken>(arranged: Arranged<T>, columns: number, picked: string | undefined, dx: number, dy: number): T | undefined {
  const { cells } = arranged;
  const at = cells.findIndex((p) => p.take.id === picked);
  if (at < 0) return cells[0]?.take;
  if (arranged.kind === "run") return cells[at + dx + dy * columns]?.take;
  const from = cells[at]!;
  // Over holes to the next take on the same line.
  const ahead = cells
    .filter((p) => (dx ? p.row === from.row && Math.sign(p.column - from.column) === dx : p.column === from.column && Math.sign(p.row - from.row) === dy))
    .sort((a, b) => Math.abs(a.column - from.column) + Math.abs(a.row - from.row) - Math.abs(b.column - from.column) - Math.abs(b.row - from.row));
  return ahead[0]?.take;
}

/** Takes between two, both included: the rectangle in a matrix, the stretch in a run. */
export function takesBetween<T extends Taken>({ kind, cells }: Arranged<T>, first: string, last: string): string[] {
  const a = cells.findIndex((p) => p.take.id === first);
  const b = cells.findIndex((p) => p.take.id === last);
  if (a < 0 || b < 0) return [last];
  if (kind === "run") return cells.slice(Math.min(a, b), Math.max(a, b) + 1).map((p) => p.take.id);
  const [p, q] = [cells[a]!, cells[b]!];
  const within = (v: number, x: number, y: number) => v >= Math.min(x, y) && v <= Math.max(x, y);
  return cells.filter((c) => within(c.row, p.row, q.row) && within(c.column, p.column, q.column)).map((c) => c.take.id);
}
