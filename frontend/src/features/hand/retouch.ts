/** What the mending brush does to what is there: smooth, sharpen, lighten, darken. */
import { blank, drawOn, masked, type Canvas } from "./canvas";
import type { Mend } from "./store";
import { drawStroke, type Stroke } from "./strokes";

const BLUR = 2.5;
const SHARP = 0.9;
const [LIGHTER, DARKER] = [1.35, 0.72];

/** A picture with one of them done to all of it. */
export function retouched(whole: Canvas, mend: Exclude<Mend, "copy">): Canvas {
  const out = blank(whole.width, whole.height);
  const draw = drawOn(out);
  draw.filter = mend === "lighten" ? `brightness(${LIGHTER})` : mend === "darken" ? `brightness(${DARKER})` : `blur(${BLUR}px)`;
  draw.drawImage(whole, 0, 0);
  if (mend !== "sharpen") return out;
  // What a soft copy lacks is added once more.
  const soft = draw.getImageData(0, 0, out.width, out.height);
  const own = drawOn(whole).getImageData(0, 0, out.width, out.height);
  for (let k = 0; k < own.data.length; k++) if (k % 4 < 3) soft.data[k] = own.data[k]! + SHARP * (own.data[k]! - soft.data[k]!);
    else soft.data[k] = own.data[k]!;
  draw.filter = "none";
  draw.putImageData(soft, 0, 0);
  return out;
}

/** Of a picture what lies under a stroke, and where. */
export function underStroke(picture: Canvas, stroke: Stroke): { canvas: Canvas; left: number; top: number } | null {
  const ink = blank(picture.width, picture.height);
  drawStroke(drawOn(ink), stroke, "#fff");
  const reach = stroke.width;
  const [xs, ys] = [stroke.points.map((p) => p.x), stroke.points.map((p) => p.y)];
  const [left, top] = [Math.max(Math.floor(Math.min(...xs) - reach), 0), Math.max(Math.floor(Math.min(...ys) - reach), 0)];
  const [right, bottom] = [Math.min(Math.ceil(Math.max(...xs) + reach), picture.width), Math.min(Math.ceil(Math.max(...ys) + reach), picture.height)];
  if (right <= left || bottom <= top) return null;
  const part = blank(right - left, bottom - top);
  drawOn(part).drawImage(masked(picture, ink), -left, -top);
  return { canvas: part, left, top };
}
