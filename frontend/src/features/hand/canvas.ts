/** Layers on canvases: read, masked, laid over one another as the server does it. */
import { layerPicture } from "../../api/hand";
import { halvings, onto, type Layer, type Place, type Stack } from "../../primitives/stack";

export type Canvas = HTMLCanvasElement;

export function blank(width: number, height: number): Canvas {
  const canvas = document.createElement("canvas");
  canvas.width = Math.max(Math.round(width), 1);
  canvas.height = Math.max(Math.round(height), 1);
  return canvas;
}

export const drawOn = (canvas: Canvas) => canvas.getContext("2d", { willReadFrequently: true })!;

export function copyOf(canvas: Canvas): Canvas {
  const copy = blank(canvas.width, canvas.height);
  drawOn(copy).drawImage(canvas, 0, 0);
  return copy;
}

export const asBlob = (canvas: Canvas): Promise<Blob> =>
  new Promise((done, failed) => canvas.toBlob((blob) => (blob ? done(blob) : failed(new Error("The layer is too large for this browser to keep."))), "image/png"));

/** Pixels of pictures that are remembered: about 400 MB. */
const MOST_PIXELS = 100_000_000;
const read = new Map<string, Promise<Canvas>>();
const pixels = new Map<string, number>();

/** Remember a picture's size, and let go of those that were read longest ago. */
function counted(digest: string, canvas: Canvas) {
  pixels.set(digest, canvas.width * canvas.height);
  let total = [...pixels.values()].reduce((sum, own) => sum + own, 0);
  for (const [name, own] of pixels) {
    if (total <= MOST_PIXELS || name === digest) break;
    pixels.delete(name);
    read.delete(name);
    total -= own;
  }
}

/** A kept picture as a canvas, read once. */
export function pictureOf(digest: string): Promise<Canvas> {
  const known = read.get(digest);
  if (known) return known;
  const found = loaded(layerPicture(digest));
  read.set(digest, found);
  found.then((canvas) => counted(digest, canvas)).catch(() => read.delete(digest));
  return found;
}

/** What was drawn here and kept under a name need not be read again. */
export function remember(digest: string, canvas: Canvas) {
  read.set(digest, Promise.resolve(canvas));
  counted(digest, canvas);
}

export async function loaded(address: string): Promise<Canvas> {
  const picture = new Image();
  picture.src = address;
  try {
    await picture.decode();
  } catch {
    throw new Error("A layer's picture could not be read; open the Hand again.");
  }
  const canvas = blank(picture.naturalWidth, picture.naturalHeight);
  drawOn(canvas).drawImage(picture, 0, 0);
  return canvas;
}

/** A grey mask as opacity. */
export function opacityOf(grey: Canvas): Canvas {
  const out = blank(grey.width, grey.height);
  const data = drawOn(grey).getImageData(0, 0, grey.width, grey.height);
  for (let k = 0; k < data.data.length; k += 4) {
    data.data[k + 3] = data.data[k]!;
    data.data[k] = data.data[k + 1] = data.data[k + 2] = 255;
  }
  drawOn(out).putImageData(data, 0, 0);
  return out;
}

/** Opacity as a grey mask. */
export function greyOf(opacity: Canvas): Canvas {
  const out = blank(opacity.width, opacity.height);
  const draw = drawOn(out);
  draw.fillStyle = "#000";
  draw.fillRect(0, 0, out.width, out.height);
  draw.drawImage(opacity, 0, 0);
  return out;
}

/** A picture as solid as an opacity lets it be. */
export function masked(picture: Canvas, opacity: Canvas): Canvas {
  const out = copyOf(picture);
  const draw = drawOn(out);
  draw.globalCompositeOperation = "destination-in";
  draw.drawImage(opacity, 0, 0);
  return out;
}

const TRIPLE = (hex: string) => [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16));

/** A ground's rows of colour, rounded as the server rounds them. */
function groundOf({ top, bottom }: { top: string; bottom: string }, height: number): Canvas {
  const column = blank(1, height);
  const data = drawOn(column).createImageData(1, column.height);
  const [from, to] = [TRIPLE(top), TRIPLE(bottom)];
  for (let y = 0; y < column.height; y++) {
    const along = (y + 0.5) / column.height;
    data.data.set([...from.map((v, k) => Math.floor(v + (to[k]! - v) * along + 0.5)), 255], 4 * y);
  }
  drawOn(column).putImageData(data, 0, 0);
  return column;
}

/** A layer's own pixels, through its mask. */
export async function layerCanvas(layer: Layer): Promise<Canvas> {
  if (layer.ground) {
    const column = groundOf(layer.ground, Math.max(Math.round(layer.place.height), 1));
    const out = blank(layer.place.width, column.height);
    const draw = drawOn(out);
    draw.imageSmoothingEnabled = false;
    draw.drawImage(column, 0, 0, out.width, out.height);
    return out;
  }
  const picture = await pictureOf(layer.picture!);
  return layer.mask ? masked(picture, opacityOf(await pictureOf(layer.mask))) : picture;
}

/** A copy of half the size, each pixel the mean of four. */
function halved(canvas: Canvas): Canvas {
  const [width, height] = [Math.max(Math.floor(canvas.width / 2), 1), Math.max(Math.floor(canvas.height / 2), 1)];
  const out = blank(width, height);
  drawOn(out).drawImage(canvas, 0, 0, 2 * width, 2 * height, 0, 0, width, height);
  return out;
}

export function filledWhite(width: number, height: number): Canvas {
  const canvas = blank(width, height);
  const draw = drawOn(canvas);
  draw.fillStyle = "#fff";
  draw.fillRect(0, 0, width, height);
  return canvas;
}

export interface Prepared {
  canvas: Canvas;
  width: number;
  height: number;
}

/** By canvas, and by how often it was halved; a canvas that was shown is never drawn on again. */
const ready = new WeakMap<Canvas, Map<number, Prepared>>();

/** Halved as often as its place asks, with a clear rim of a pixel so that its edges are soft where it is turned. */
export function prepared(canvas: Canvas, place: Place): Prepared {
  const times = halvings(place, canvas.width, canvas.height);
  const own = ready.get(canvas) ?? new Map<number, Prepared>();
  ready.set(canvas, own);
  const known = own.get(times);
  if (known) return known;
  let small = canvas;
  for (let k = times; k > 0; k--) small = halved(small);
  const rimmed = blank(small.width + 2, small.height + 2);
  drawOn(rimmed).drawImage(small, 1, 1);
  const found = { canvas: rimmed, width: small.width, height: small.height };
  own.set(times, found);
  return found;
}

/** Lay a layer's pixels in their place. */
export function lay(draw: CanvasRenderingContext2D, canvas: Canvas, place: Place, opacity: number) {
  const { canvas: rimmed, width, height } = prepared(canvas, place);
  draw.save();
  draw.globalAlpha = opacity;
  draw.imageSmoothingEnabled = true;
  draw.transform(...onto(place, width, height));
  draw.drawImage(rimmed, -1, -1);
  draw.restore();
}

/** All shown layers as one picture. */
export function composed(stack: Stack, canvases: ReadonlyMap<string, Canvas>): Canvas {
  const out = blank(stack.width, stack.height);
  const draw = drawOn(out);
  for (const layer of stack.layers) {
    const canvas = canvases.get(layer.id);
    if (layer.shown && canvas && layer.opacity > 0) lay(draw, canvas, layer.place, layer.opacity);
  }
  return out;
}
