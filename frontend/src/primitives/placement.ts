import { clamp, snap } from "./span";

/** Where a cut-out stands: its middle and its lower edge, and its height, all in shares of the picture. */
export interface Placement {
  x: number;
  y: number;
  tall: number;
  stance: "auto" | "stands" | "floats" | "hangs";
}

/** The cut-out in its source: left, top, right, bottom in shares of the picture. */
export type Box = readonly [number, number, number, number];

const STEP = 0.01;
const TALL = { least: 0.05, most: 2 };

/** Where the cut-out is as it came. */
export function asItIs([left, top, right, bottom]: Box): Placement {
  return { x: snap((left + right) / 2, STEP), y: snap(bottom, STEP), tall: clamp(snap(bottom - top, STEP), TALL.least, TALL.most), stance: "auto" };
}

export function movedBy(placement: Placement, dx: number, dy: number): Placement {
  return { ...placement, x: clamp(snap(placement.x + dx, STEP), -0.5, 1.5), y: clamp(snap(placement.y + dy, STEP), 0, 1.5) };
}

export function sizedTo(placement: Placement, tall: number): Placement {
  return { ...placement, tall: clamp(snap(tall, STEP), TALL.least, TALL.most) };
}

/** The rectangle that it covers, in shares of the picture; `aspect` is the picture's width over its height. */
export function rectangle({ x, y, tall }: Placement, box: Box, aspect: number): { left: number; top: number; width: number; height: number } {
  const [left, top, right, bottom] = box;
  // Its shape never changes: as wide as it is tall in the source, counted in pixels.
  const width = (tall * ((right - left) * aspect)) / Math.max(bottom - top, 1e-3) / aspect;
  return { left: x - width / 2, top: y - tall, width, height: tall };
}

/** How a picture of the whole source is laid so that its cut-out fills an element: size and place in percent of the element. */
export function behindBox([left, top, right, bottom]: Box): { size: string; position: string } {
  const wide = Math.max(right - left, 1e-3);
  const high = Math.max(bottom - top, 1e-3);
  const along = (start: number, part: number) => (part >= 1 ? 0 : (start / (1 - part)) * 100);
  return { size: `${100 / wide}% ${100 / high}%`, position: `${along(left, wide)}% ${along(top, high)}%` };
}
