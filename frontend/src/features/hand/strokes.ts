/** Brush strokes on canvases. */
import { getStroke } from "perfect-freehand";
import type { Point } from "../../primitives/stack";
import { blank, drawOn, type Canvas } from "./canvas";

export interface Dab extends Point {
  pressure: number;
}

export interface Stroke {
  points: Dab[];
  width: number;
  /** How far of its width its edge fades, 0 to 1. */
  soft: number;
  opacity: number;
  colour: string;
  /** A pen's pressure makes it thinner; a mouse has none. */
  pen: boolean;
}

/** Blur of a stroke's edge, pixels. */
const blurOf = ({ width, soft }: Stroke) => (soft * width) / 5;

/** The outline of a stroke, narrowed so that it is as wide as asked once its edge is soft. */
export function pathOf(stroke: Stroke): Path2D {
  const size = Math.max(stroke.width - blurOf(stroke), 1);
  const outline = getStroke(
    stroke.points.map(({ x, y, pressure }) => [x, y, pressure]),
    { size, thinning: stroke.pen ? 0.7 : 0, smoothing: 0.5, streamline: 0.35, simulatePressure: false },
  );
  const path = new Path2D();
  const first = stroke.points[0]!;
  if (stroke.points.length === 1) {
    path.arc(first.x, first.y, size / 2, 0, 2 * Math.PI);
    return path;
  }
  outline.forEach(([x, y], k) => (k ? path.lineTo(x!, y!) : path.moveTo(x!, y!)));
  path.closePath();
  return path;
}

/** A stroke drawn in the pixels of a canvas. */
export function drawStroke(draw: CanvasRenderingContext2D, stroke: Stroke, colour = stroke.colour) {
  draw.save();
  const blur = blurOf(stroke);
  if (blur >= 0.5) draw.filter = `blur(${blur.toFixed(2)}px)`;
  draw.globalAlpha *= stroke.opacity;
  draw.fillStyle = colour;
  draw.fill(pathOf(stroke));
  draw.restore();
}

/** A stroke of the whole as one in a layer's own pixels. */
export function strokeWithin(stroke: Stroke, into: (point: Point) => Point, scale: number): Stroke {
  return { ...stroke, width: stroke.width * scale, points: stroke.points.map((p) => ({ ...into(p), pressure: p.pressure })) };
}

/** A mask with a stroke taken out of it, or given back to it. */
export function erased(opacity: Canvas, stroke: Stroke, restore: boolean): Canvas {
  const out = blank(opacity.width, opacity.height);
  const draw = drawOn(out);
  draw.drawImage(opacity, 0, 0);
  draw.globalCompositeOperation = restore ? "source-over" : "destination-out";
  drawStroke(draw, stroke, "#fff");
  return out;
}
