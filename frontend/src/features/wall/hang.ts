import type { Hung, WallBody, WallView } from "../../api/wall";

export const SIZES = { least: 0.4, most: 3, step: 1.25 };

/** Pictures in the order in which they hang: by hand, the newest first, or the highest reading first. What was kept since it was hung by hand stands behind. */
export function inOrder(wall: WallView): Hung[] {
  const { order = "hand", takes = [] } = wall.body;
  if (order === "date") return [...wall.hung].sort((a, b) => b.kept.localeCompare(a.kept));
  if (order !== "hand") return [...wall.hung].sort((a, b) => reading(b, order) - reading(a, order));
  const place = new Map(takes.map((id, k) => [id, k]));
  const last = takes.length;
  return [...wall.hung].sort((a, b) => (place.get(a.take.id) ?? last) - (place.get(b.take.id) ?? last));
}

const reading = (hung: Hung, name: string) => hung.take.readings?.figures[name] ?? -1;

/** Another size, a step larger or smaller, within what there is. */
export function sized(body: WallBody, id: string, larger: boolean): WallBody {
  const now = body.sizes[id] ?? 1;
  const next = Math.min(Math.max(larger ? now * SIZES.step : now / SIZES.step, SIZES.least), SIZES.most);
  // Steps up and down lead back to the usual size.
  return { ...body, sizes: { ...body.sizes, [id]: Math.abs(next - 1) < 0.02 ? 1 : Number(next.toFixed(3)) } };
}
