export interface Point {
  x: number;
  y: number;
}

/** A stroke of the region brush: points in shares of the picture, width in shares of its longer side. */
export interface Stroke {
  erase: boolean;
  width: number;
  points: Point[];
}

export const WIDTHS: [number, number] = [0.005, 0.5];
export const WIDEST_PX = 300;
const STEP = 1.25;
const LONG_SIDE = 1024;

/** The next wider or thinner brush. */
export const nextWidth = (width: number, wider: boolean): number =>
  Math.min(Math.max(wider ? width * STEP : width / STEP, WIDTHS[0]), WIDTHS[1]);

/** The same for a brush of the Hand, in whole pixels of the picture. */
export const nextWidthPx = (width: number, wider: boolean): number => Math.min(Math.max(Math.round(wider ? Math.max(width * STEP, width + 1) : Math.min(width / STEP, width - 1)), 1), WIDEST_PX);

/** Size of the mask of a picture, at most 1024 px. */
export function maskSize(width: number, height: number): { width: number; height: number } {
  const scale = Math.min(LONG_SIDE / Math.max(width, height), 1);
  return { width: Math.max(Math.round(width * scale), 1), height: Math.max(Math.round(height * scale), 1) };
}

/** Size of a picture shown as large as a room allows, with a margin around it. */
export function shownIn(room: { width: number; height: number }, size: { width: number; height: number }, margin: number): { width: number; height: number } {
  const scale = Math.max(Math.min((room.width - 2 * margin) / size.width, (room.height - 2 * margin) / size.height), 0);
  return { width: Math.round(size.width * scale), height: Math.round(size.height * scale) };
}

/** A point moved by an arrow key, and kept in the picture. */
export function stepped(point: Point, key: string, far: boolean): Point | null {
  const by = far ? 0.1 : 0.02;
  const ways: Record<string, [number, number]> = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] };
  const way = ways[key];
  const held = (value: number) => Math.min(Math.max(value, 0), 1);
  return way ? { x: held(point.x + way[0]), y: held(point.y + way[1]) } : null;
}

/** How much of a mask is painted, from the opacities of its RGBA bytes. */
export function painted(bytes: ArrayLike<number>): number {
  let sum = 0;
  for (let k = 3; k < bytes.length; k += 4) sum += bytes[k]!;
  return bytes.length ? sum / (255 * (bytes.length / 4)) : 0;
}
