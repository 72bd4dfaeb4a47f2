/** Pictures in rows that fill a width, each as large in its row as it is wished; `core/export/wall.py` lays the same on paper. */

export interface Shape {
  /** Width over height. */
  aspect: number;
  /** Share of what is usual. */
  size: number;
}

export interface Placed {
  index: number;
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Where every picture stands, in their order. `usual`: height of one of size 1; `below`: room under each row. All of a row stand on one line at their lower edge; the last row is not enlarged to fill it. */
export function rows(shapes: readonly Shape[], width: number, usual: number, gap: number, below = 0): Placed[] {
  const placed: Placed[] = [];
  let y = 0;
  let row: number[] = [];
  const wideOf = (members: number[]) => members.reduce((sum, k) => sum + shapes[k]!.aspect * shapes[k]!.size * usual, 0);
  const close = (members: number[], last: boolean) => {
    const wide = wideOf(members);
    const room = width - gap * (members.length - 1);
    const scale = !last || wide > room ? room / wide : 1;
    const high = Math.max(...members.map((k) => shapes[k]!.size)) * usual * scale;
    let x = 0;
    for (const k of members) {
      const height = shapes[k]!.size * usual * scale;
      placed.push({ index: k, x, y: y + high - height, width: shapes[k]!.aspect * height, height });
      x += shapes[k]!.aspect * height + gap;
    }
    y += high + gap + below;
  };
  shapes.forEach(({ aspect, size }, index) => {
    row.push(index);
    const wide = wideOf(row) + gap * (row.length - 1);
    if (wide < width) return;
    // Without the newest the row may be nearer to its width.
    const without = wide - aspect * size * usual - gap;
    const early = row.length > 1 && wide - width > width - without;
    if (early) row.pop();
    close(row, false);
    row = early ? [index] : [];
  });
  if (row.length) close(row, true);
  return placed;
}

/** A list with one of it moved to where another stands. */
export function moved(ids: readonly string[], from: string, to: string): string[] {
  const at = ids.indexOf(to);
  if (at < 0 || from === to) return [...ids];
  const without = ids.filter((id) => id !== from);
  without.splice(at, 0, from);
  return without;
}
