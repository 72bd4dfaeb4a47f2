import type { Framing } from "../../api/client";
import { placed, turnedSize } from "../../primitives/framing";

/** The turned, flipped and straightened picture on a canvas of a size; its corners show the ground. */
export function drawFramed(canvas: HTMLCanvasElement, image: HTMLImageElement, framing: Framing, width: number, height: number) {
  const dense = Math.min(window.devicePixelRatio, 2);
  canvas.width = Math.round(width * dense);
  canvas.height = Math.round(height * dense);
  const context = canvas.getContext("2d");
  if (!context) return;
  context.fillStyle = framing.ground ?? "#ffffff";
  context.fillRect(0, 0, canvas.width, canvas.height);
  drawTurned(context, image, framing, canvas.width, canvas.height);
}

/** The output as the engine will see it, on a canvas of its own pixels. */
export function drawResult(canvas: HTMLCanvasElement, image: HTMLImageElement, framing: Framing, original: { width: number; height: number }, size: number) {
  const { width, height, crop, inner } = placed(original, framing, size);
  canvas.width = width;
  canvas.height = height;
  const context = canvas.getContext("2d");
  if (!context) return;
  context.fillStyle = framing.ground ?? "#ffffff";
  context.fillRect(0, 0, width, height);
  context.save();
  context.beginPath();
  context.rect(inner.left, inner.top, inner.width, inner.height);
  context.clip();
  context.translate(inner.left, inner.top);
  context.scale(inner.width / crop.width, inner.height / crop.height);
  context.translate(-crop.left, -crop.top);
  const turned = turnedSize(original, framing);
  drawTurned(context, image, framing, turned.width, turned.height);
  context.restore();
}

function drawTurned(context: CanvasRenderingContext2D, image: HTMLImageElement, framing: Framing, width: number, height: number) {
  const lies = framing.turn === 90 || framing.turn === 270;
  const own = lies ? { width: height, height: width } : { width, height };
  context.imageSmoothingQuality = "high";
  context.translate(width / 2, height / 2);
  context.rotate((-(framing.straighten ?? 0) * Math.PI) / 180);
  if (framing.flip) context.scale(-1, 1);
  context.rotate(((framing.turn ?? 0) * Math.PI) / 180);
  context.drawImage(image, -own.width / 2, -own.height / 2, own.width, own.height);
}
