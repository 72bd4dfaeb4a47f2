/** Selections: a plane of 0..255 a pixel, made and changed. Pure. */
import type { Point } from "./stack";

export interface Selection {
  width: number;
  height: number;
  /** 0 not chosen, 255 wholly; between them soft. */
  plane: Uint8ClampedArray;
}

export type Joined = "new" | "add" | "away" | "cross";

export const none = (width: number, height: number): Selection => ({ width, height, plane: new Uint8ClampedArray(width * height) });

export const isEmpty = ({ plane }: Selection): boolean => !plane.some((v) => v > 127);

/** The inside of a closed line. */
export function insideOf(line: Point[], width: number, height: number): Selection {
  const out = none(width, height);
  for (let y = 0; y < height; y++) {
    const at = y + 0.5;
    const cuts: number[] = [];
    line.forEach((a, k) => {
      const b = line[(k + 1) % line.length]!;
      if (a.y <= at !== b.y <= at) cuts.push(a.x + ((at - a.y) / (b.y - a.y)) * (b.x - a.x));
    });
    cuts.sort((a, b) => a - b);
    for (let k = 0; k + 1 < cuts.length; k += 2) {
      const [from, to] = [Math.max(Math.round(cuts[k]!), 0), Math.min(Math.round(cuts[k + 1]!), width)];
      if (to > from) out.plane.fill(255, y * width + from, y * width + to);
    }
  }
  return out;
}

const linear = new Float32Array(256).map((_, v) => (v <= 10 ? v / 255 / 12.92 : ((v / 255 + 0.055) / 1.055) ** 2.4));

/** A colour in OKLab (B. Ottosson, 2020), in which distances are as far as they look. */
export function oklab(r: number, g: number, b: number): [number, number, number] {
  const [lr, lg, lb] = [linear[r]!, linear[g]!, linear[b]!];
  const l = Math.cbrt(0.4122214708 * lr + 0.5363325363 * lg + 0.0514459929 * lb);
  const m = Math.cbrt(0.2119034982 * lr + 0.6806995451 * lg + 0.1073969566 * lb);
  const s = Math.cbrt(0.0883024619 * lr + 0.2817188376 * lg + 0.6299787005 * lb);
  return [0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s, 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s, 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s];
}

export interface Pixels {
  width: number;
  height: number;
  data: Uint8ClampedArray;
}

/** Pixels whose colour is within `tolerance` (OKLab) of the one at a point, those that hang together with it, or everywhere. */
export function byColour(picture: Pixels, point: Point, tolerance: number, together: boolean): Selection {
  const { width, height, data } = picture;
  const out = none(width, height);
  const [x, y] = [Math.floor(point.x), Math.floor(point.y)];
  if (x < 0 || y < 0 || x >= width || y >= height) return out;
  const at = (k: number) => oklab(data[4 * k]!, data[4 * k + 1]!, data[4 * k + 2]!);
  const [l, a, b] = at(y * width + x);
  const clear = data[4 * (y * width + x) + 3]! < 128;
  const most = tolerance * tolerance;
  const alike = (k: number) => {
    if (data[4 * k + 3]! < 128 || clear) return data[4 * k + 3]! < 128 === clear;
    const [dl, da, db] = at(k);
    return (dl - l) ** 2 + (da - a) ** 2 + (db - b) ** 2 <= most;
  };
  if (!together) {
    for (let k = 0; k < width * height; k++) if (alike(k)) out.plane[k] = 255;
    return out;
  }
  const seen = new Uint8Array(width * height);
  const queue = [y * width + x];
  seen[queue[0]!] = 1;
  while (queue.length) {
    const k = queue.pop()!;
    if (!alike(k)) continue;
    out.plane[k] = 255;
    const column = k % width;
    for (const next of [column > 0 ? k - 1 : -1, column < width - 1 ? k + 1 : -1, k - width, k + width]) {
      if (next >= 0 && next < width * height && !seen[next]) {
        seen[next] = 1;
        queue.push(next);
      }
    }
  }
  return out;
}

/** One selection with another. */
export function joined(first: Selection, second: Selection, how: Joined): Selection {
  if (how === "new") return second;
  const plane = first.plane.map((v, k) => {
    const w = second.plane[k]!;
    return how === "add" ? Math.max(v, w) : how === "away" ? Math.min(v, 255 - w) : Math.min(v, w);
  });
  return { ...first, plane };
}

export const inverted = (selection: Selection): Selection => ({ ...selection, plane: selection.plane.map((v) => 255 - v) });

/** Grown by so many pixels, or shrunk by less than none. */
export function grown(selection: Selection, by: number): Selection {
  if (by === 0) return selection;
  const { width, height } = selection;
  const better = by > 0 ? Math.max : Math.min;
  const steps = Math.abs(Math.round(by));
  let plane = selection.plane;
  for (let k = 0; k < steps; k++) {
    // A cross and a square by turns come near a circle.
    const diagonal = k % 2 === 1;
    const next = plane.slice();
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        let value = plane[y * width + x]!;
        for (let dy = -1; dy <= 1; dy++) {
          for (let dx = -1; dx <= 1; dx++) {
            if ((dx === 0 && dy === 0) || (!diagonal && dx !== 0 && dy !== 0)) continue;
            const [px, py] = [x + dx, y + dy];
            if (px >= 0 && py >= 0 && px < width && py < height) value = better(value, plane[py * width + px]!);
          }
        }
        next[y * width + x] = value;
      }
    }
    plane = next;
  }
  return { ...selection, plane };
}

/** With an edge that fades over about so many pixels: three box means, nearly a Gaussian. */
export function softened(selection: Selection, over: number): Selection {
  const reach = Math.round(over / 2);
  if (reach < 1) return selection;
  let plane = Float32Array.from(selection.plane);
  for (let k = 0; k < 3; k++) plane = meaned(meaned(plane, selection.width, selection.height, reach, 1), selection.width, selection.height, reach, selection.width);
  return { ...selection, plane: Uint8ClampedArray.from(plane, Math.round) };
}

/** A running mean along rows (`step` 1) or columns (`step` the width). */
function meaned(plane: Float32Array<ArrayBuffer>, width: number, height: number, reach: number, step: number): Float32Array<ArrayBuffer> {
  const out = new Float32Array(plane.length);
  const along = step === 1 ? width : height;
  const lines = step === 1 ? height : width;
  for (let line = 0; line < lines; line++) {
    const begin = step === 1 ? line * width : line;
    const at = (k: number) => plane[begin + Math.min(Math.max(k, 0), along - 1) * step]!;
    let sum = 0;
    for (let k = -reach; k <= reach; k++) sum += at(k);
    for (let k = 0; k < along; k++) {
      out[begin + k * step] = sum / (2 * reach + 1);
      sum += at(k + reach + 1) - at(k - reach);
    }
  }
  return out;
}

/** The box around what is chosen, or null. */
export function boundsOf({ width, height, plane }: Selection): { left: number; top: number; width: number; height: number } | null {
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (plane[y * width + x]! > 0) {
        if (x < left) left = x;
        if (x > right) right = x;
        if (y < top) top = y;
        bottom = y;
      }
    }
  }
  return right < 0 ? null : { left, top, width: right - left + 1, height: bottom - top + 1 };
}

/** The mean colour of a square of so many pixels, as #rrggbb. */
export function meanColour({ width, height, data }: Pixels, point: Point, side: number): string {
  const half = Math.floor(side / 2);
  const sum = [0, 0, 0];
  let count = 0;
  for (let y = Math.floor(point.y) - half; y <= Math.floor(point.y) + half; y++) {
    for (let x = Math.floor(point.x) - half; x <= Math.floor(point.x) + half; x++) {
      if (x < 0 || y < 0 || x >= width || y >= height) continue;
      count += 1;
      for (let band = 0; band < 3; band++) sum[band]! += data[4 * (y * width + x) + band]!;
    }
  }
  return `#${sum.map((v) => Math.round(v / Math.max(count, 1)).toString(16).padStart(2, "0")).join("")}`;
}
