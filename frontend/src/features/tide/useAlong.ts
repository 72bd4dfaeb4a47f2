import { alongColumns, type Along } from "../../primitives/tide";
import { useColumns } from "../../study/columns";

/** At both ends of an axis of its own, in pixels; the pictures under it need so much. */
const ENDS = 44;
/** The axis' numbers stand so far before the first column. */
const BEFORE = 26;
const LEAST_LEFT = 26;

/** Where strengths stand: under the sheet's columns where takes stand in rows, otherwise along an axis of their own. */
export function useAlong(strengths: number[], columns: number[] | null, width: number): { along: Along; wrapped: boolean; left: number } {
  const told = useColumns((s) => s.columns);
  const under = told && columns && told.count === columns.length ? told : null;
  if (under && columns) {
    const middles = columns.map((_, c) => under.first + c * under.step);
    return { along: alongColumns(columns, middles), wrapped: false, left: Math.max((middles[0] ?? 0) - Math.min(under.step / 2, BEFORE), LEAST_LEFT) };
  }
  const ends = [Math.min(...strengths), Math.max(...strengths)];
  return { along: alongColumns(ends, [ENDS + LEAST_LEFT, Math.max(width - ENDS, ENDS + LEAST_LEFT + 1)]), wrapped: true, left: LEAST_LEFT };
}
