/** A straight divider across a picture, at any angle. */

export interface Divider {
  /** Where it stands, 0 to 1 across the picture along its own direction. */
  at: number;
  /** Degrees that it is turned: 0 divides left from right, 90 top from bottom. */
  angle: number;
}

interface Size {
  width: number;
  height: number;
}

export type Point = [number, number];

const turn = (angle: number): Point => {
  const radians = (angle * Math.PI) / 180;
  return [Math.cos(radians), Math.sin(radians)];
};

/** How far the picture reaches along the divider's direction. */
const reach = ({ width, height }: Size, [nx, ny]: Point) => Math.abs(width * nx) + Math.abs(height * ny);

/** The point of the picture that the divider runs through, nearest to the middle. */
export function middleOf({ at, angle }: Divider, size: Size): Point {
  const n = turn(angle);
  const by = (at - 0.5) * reach(size, n);
  return [size.width / 2 + n[0] * by, size.height / 2 + n[1] * by];
}

/** The divider moved so that it runs through a point of the picture. */
export function throughPoint(divider: Divider, size: Size, x: number, y: number): Divider {
  const n = turn(divider.angle);
  const along = (x - size.width / 2) * n[0] + (y - size.height / 2) * n[1];
  return { ...divider, at: Math.min(Math.max(0.5 + along / reach(size, n), 0), 1) };
}

/** The divider turned so that its line points at a point, in steps of a degree; it stays where it stands. */
export function turnedTo(divider: Divider, size: Size, x: number, y: number): Divider {
  const [mx, my] = middleOf(divider, size);
  const line = (Math.atan2(y - my, x - mx) * 180) / Math.PI;
  const angle = ((Math.round(line - 90) % 180) + 180) % 180;
  // The same picture stays on the same side.
  const nearest = [angle, angle - 180].sort((a, b) => Math.abs(a - divider.angle) - Math.abs(b - divider.angle))[0]!;
  return throughPoint({ ...divider, angle: nearest }, size, mx, my);
}

/** The part of the picture before the divider, as a polygon in its own pixels; empty where nothing is before it. */
export function before(divider: Divider, size: Size): Point[] {
  const n = turn(divider.angle);
  const middle = middleOf(divider, size);
  const side = ([x, y]: Point) => (x - middle[0]) * n[0] + (y - middle[1]) * n[1];
  const corners: Point[] = [[0, 0], [size.width, 0], [size.width, size.height], [0, size.height]];
  const out: Point[] = [];
  corners.forEach((corner, i) => {
    const next = corners[(i + 1) % 4]!;
    const [a, b] = [side(corner), side(next)];
    if (a <= 0) out.push(corner);
    if (a < 0 !== b < 0 && a !== b) {
      const t = a / (a - b);
      out.push([corner[0] + t * (next[0] - corner[0]), corner[1] + t * (next[1] - corner[1])]);
    }
  });
  return out.length > 2 ? out : [];
}

/** A polygon as a CSS clip path in percent of the picture. */
export const clipOf = (polygon: Point[], { width, height }: Size): string =>
  polygon.length ? `polygon(${polygon.map(([x, y]) => `${((100 * x) / width).toFixed(3)}% ${((100 * y) / height).toFixed(3)}%`).join(", ")})` : "inset(0 100% 0 0)";
