import type { Point } from "./region";

/** A face on a picture: middle and width in shares of the picture's longer side, `angle` degrees leaning right. */
export interface Oval {
  x: number;
  y: number;
  width: number;
  angle: number;
}

/** Height of a face's oval, in its widths. */
export const TALL = 1.32;
export const MOST_FACES = 24;
const [LEAST, MOST] = [0.02, 1];
const GROW = 1.1;

const within = (value: number, least: number, most: number) => Math.min(Math.max(value, least), most);
const tidy = (value: number) => Number(value.toFixed(4));

/** Degrees within half a turn either way. */
export const upright = (angle: number): number => tidy(((((angle + 180) % 360) + 360) % 360) - 180);

/** The oval of a box that a hand drew from one corner to the other. */
export function ovalBetween(from: Point, to: Point, angle = 0): Oval {
  const width = Math.max(Math.abs(to.x - from.x), Math.abs(to.y - from.y) / TALL);
  return { x: tidy((from.x + to.x) / 2), y: tidy((from.y + to.y) / 2), width: tidy(within(width, LEAST, MOST)), angle };
}

/** A point as the oval sees it: from its middle, with the oval upright. */
function inside(oval: Oval, point: Point): Point {
  const lean = (oval.angle * Math.PI) / 180;
  const [dx, dy] = [point.x - oval.x, point.y - oval.y];
  return { x: dx * Math.cos(lean) + dy * Math.sin(lean), y: dy * Math.cos(lean) - dx * Math.sin(lean) };
}

/** Which oval a point lies in, the smallest first; -1 for none. */
export function ovalAt(ovals: Oval[], point: Point): number {
  let found = -1;
  ovals.forEach((oval, i) => {
    const { x, y } = inside(oval, point);
    const hit = Math.hypot(x / oval.width, y / (TALL * oval.width)) <= 0.5;
    if (hit && (found < 0 || oval.width < ovals[found]!.width)) found = i;
  });
  return found;
}

/** As wide as puts its side at a point. */
export const widenedTo = (oval: Oval, point: Point): Oval => ({ ...oval, width: tidy(within(2 * Math.abs(inside(oval, point).x), LEAST, MOST)) });

/** Leaning so that its top is toward a point. */
export const leantTo = (oval: Oval, point: Point): Oval => ({ ...oval, angle: upright(Math.round((Math.atan2(point.x - oval.x, oval.y - point.y) * 180) / Math.PI)) });

/** Moved, its middle kept in a picture of these shares. */
export const movedTo = (oval: Oval, to: Point, picture: Point): Oval => ({ ...oval, x: tidy(within(to.x, 0, picture.x)), y: tidy(within(to.y, 0, picture.y)) });

/** What a key makes of an oval, or null: arrows move it, + and - size it, [ and ] lean it. */
export function keyed(oval: Oval, key: string, far: boolean, picture: Point): Oval | null {
  const by = far ? 0.05 : 0.005;
  const ways: Record<string, [number, number]> = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] };
  const way = ways[key];
  if (way) return movedTo(oval, { x: oval.x + way[0], y: oval.y + way[1] }, picture);
  if (key === "+" || key === "-") return { ...oval, width: tidy(within(key === "+" ? oval.width * GROW : oval.width / GROW, LEAST, MOST)) };
  if (key === "[" || key === "]") return { ...oval, angle: upright(oval.angle + (key === "]" ? 5 : -5)) };
  return null;
}

/** Degrees within which a face looks at us. */
const AHEAD = 12;

/** Where faces look, in a sentence; those without points are not told. */
export function looking(faces: { yaw?: number | null }[]): string {
  const told = faces.flatMap(({ yaw }) => (typeof yaw === "number" ? [Math.abs(yaw) < AHEAD ? "at us" : yaw > 0 ? "to the right" : "to the left"] : []));
  if (!told.length) return "";
  if (told.length === 1) return `It looks ${told[0]}.`;
  const counts = [...new Set(told)].map((way) => [told.filter((t) => t === way).length, way] as const);
  return counts.length === 1 ? `All look ${counts[0]![1]}.` : `${counts.map(([n, way]) => `${n} ${n === 1 ? "looks" : "look"} ${way}`).join(", ")}.`;
}
