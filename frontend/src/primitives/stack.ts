/** Layers of the Hand: where they lie, their order, what snaps to what. Pure; the server composes by the same rules. */
import type { components } from "../api/types.gen";

export type Stack = components["schemas"]["Stack"];
export type Layer = components["schemas"]["Layer"];
export type Place = components["schemas"]["Place"];
export interface Point {
  x: number;
  y: number;
}

export const LARGEST_LAYER = 8192;
const LEAST = 1;

/** Where a new picture lies: in the middle (or at `at`), no larger than a share of the whole, never enlarged. */
export function placeNew(picture: { width: number; height: number }, stack: Stack, share = 1, at?: Point): Place {
  const scale = Math.min((share * stack.width) / picture.width, (share * stack.height) / picture.height, 1);
  return { x: at?.x ?? stack.width / 2, y: at?.y ?? stack.height / 2, width: Math.max(picture.width * scale, LEAST), height: Math.max(picture.height * scale, LEAST), turn: 0, across: false, down: false };
}

/** The whole of the stack as a place: what is painted lies there. */
export const wholePlace = (stack: { width: number; height: number }): Place => ({ x: stack.width / 2, y: stack.height / 2, width: stack.width, height: stack.height, turn: 0, across: false, down: false });

/** An id that no layer has yet. */
export function freshId(stack: Stack, begin = "l"): string {
  const taken = new Set(stack.layers.map((layer) => layer.id));
  let number = stack.layers.length;
  while (taken.has(`${begin}${number}`)) number += 1;
  return `${begin}${number}`;
}

export const withLayer = (stack: Stack, layer: Layer): Stack => ({ ...stack, layers: [...stack.layers, layer] });

/** A new layer right above another, or on top. */
export function above(stack: Stack, id: string | null, layer: Layer): Stack {
  const at = stack.layers.findIndex((l) => l.id === id);
  if (at < 0) return withLayer(stack, layer);
  return { ...stack, layers: [...stack.layers.slice(0, at + 1), layer, ...stack.layers.slice(at + 1)] };
}

export const changed = (stack: Stack, id: string, part: Partial<Layer>): Stack => ({ ...stack, layers: stack.layers.map((layer) => (layer.id === id ? { ...layer, ...part } : layer)) });

export const without = (stack: Stack, id: string): Stack => ({ ...stack, layers: stack.layers.filter((layer) => layer.id !== id) });

/** A layer moved so many places up (towards the eye) or down. */
export function reordered(stack: Stack, id: string, by: number): Stack {
  const at = stack.layers.findIndex((layer) => layer.id === id);
  const to = Math.min(Math.max(at + by, 0), stack.layers.length - 1);
  if (at < 0 || to === at) return stack;
  const layers = stack.layers.filter((layer) => layer.id !== id);
  layers.splice(to, 0, stack.layers[at]!);
  return { ...stack, layers };
}

const radians = (degrees: number) => (degrees * Math.PI) / 180;

/** The map from pixels of a layer of that size to the stack, as a canvas takes it: [a, b, c, d, e, f]. */
export function onto(place: Place, width: number, height: number): [number, number, number, number, number, number] {
  const [c, s] = [Math.cos(radians(place.turn ?? 0)), Math.sin(radians(place.turn ?? 0))];
  const sx = (place.width / width) * (place.across ? -1 : 1);
  const sy = (place.height / height) * (place.down ? -1 : 1);
  const [a, b, cc, d] = [c * sx, s * sx, -s * sy, c * sy];
  return [a, b, cc, d, place.x - (a * width + cc * height) / 2, place.y - (b * width + d * height) / 2];
}

/** A point of the stack in a layer's own pixels. */
export function within(place: Place, width: number, height: number, point: Point): Point {
  const [a, b, c, d, e, f] = onto(place, width, height);
  const [x, y, det] = [point.x - e, point.y - f, a * d - b * c];
  return { x: (d * x - c * y) / det, y: (a * y - b * x) / det };
}

/** The upright box around a place. */
export function boxOf(place: Place): { left: number; top: number; right: number; bottom: number } {
  const [c, s] = [Math.abs(Math.cos(radians(place.turn ?? 0))), Math.abs(Math.sin(radians(place.turn ?? 0)))];
  const [w, h] = [(place.width * c + place.height * s) / 2, (place.width * s + place.height * c) / 2];
  return { left: place.x - w, right: place.x + w, top: place.y - h, bottom: place.y + h };
}

/** The highest shown, unlocked layer whose box holds a point. */
export function layerAt(stack: Stack, point: Point): Layer | undefined {
  return stack.layers.findLast((layer) => {
    const box = boxOf(layer.place);
    return layer.shown && !layer.locked && point.x >= box.left && point.x <= box.right && point.y >= box.top && point.y <= box.bottom;
  });
}

export interface Snap {
  x: number;
  y: number;
  /** Lines that it snapped to, in pixels of the stack. */
  across: number[];
  down: number[];
}

/** A place moved so that an edge or its middle lies on an edge, a middle or a third of the whole, where one is within reach. */
export function snapped(place: Place, stack: { width: number; height: number }, reach: number): Snap {
  const box = boxOf(place);
  const one = (low: number, middle: number, high: number, length: number) => {
    const edges = [0, length].flatMap((to) => [low, high].map((from) => ({ to, by: to - from })));
    const inner = [length / 2, length / 3, (2 * length) / 3].map((to) => ({ to, by: to - middle }));
    return [...edges, ...inner].filter((s) => Math.abs(s.by) <= reach).sort((a, b) => Math.abs(a.by) - Math.abs(b.by))[0];
  };
  const x = one(box.left, place.x, box.right, stack.width);
  const y = one(box.top, place.y, box.bottom, stack.height);
  return { x: place.x + (x?.by ?? 0), y: place.y + (y?.by ?? 0), across: x ? [x.to] : [], down: y ? [y.to] : [] };
}

/** How often a picture of that size is halved before it is drawn at a place, so that none of it is skipped. */
export function halvings(place: Place, width: number, height: number): number {
  let [times, w, h] = [0, width, height];
  while (Math.max(place.width / w, place.height / h) < 0.75 && Math.min(w, h) >= 4) {
    [w, h, times] = [Math.max(Math.floor(w / 2), 1), Math.max(Math.floor(h / 2), 1), times + 1];
  }
  return times;
}
