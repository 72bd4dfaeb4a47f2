import type { Stroke } from "../primitives/region";

/** What a region is painted from, and what was done to it since: strokes, and painted and unpainted exchanged. */
export interface Painting {
  /** Whether it begins from the region that is kept, from all of the picture or from nothing. */
  base: "kept" | "all" | "none";
  steps: (Stroke | "exchanged")[];
}

export const NOTHING: Painting = { base: "none", steps: [] };

/** Draw a region onto a canvas as opacity: white where takes may change the picture. */
export function drawMask(canvas: HTMLCanvasElement, { base, steps }: Painting, kept: CanvasImageSource | null) {
  const draw = canvas.getContext("2d", { willReadFrequently: true })!;
  const { width, height } = canvas;
  draw.globalCompositeOperation = "source-over";
  draw.clearRect(0, 0, width, height);
  draw.fillStyle = draw.strokeStyle = "#fff";
  if (base === "all") draw.fillRect(0, 0, width, height);
  if (base === "kept" && kept) draw.drawImage(kept, 0, 0, width, height);
  draw.lineCap = draw.lineJoin = "round";
  for (const step of steps) {
    if (step === "exchanged") {
      draw.globalCompositeOperation = "source-out";
      draw.fillRect(0, 0, width, height);
      continue;
    }
    draw.globalCompositeOperation = step.erase ? "destination-out" : "source-over";
    drawStroke(draw, step, canvas);
  }
}

function drawStroke(draw: CanvasRenderingContext2D, { width: wide, points }: Stroke, { width, height }: { width: number; height: number }) {
  draw.lineWidth = Math.max(wide * Math.max(width, height), 1);
  draw.beginPath();
  points.forEach(({ x, y }, i) => (i ? draw.lineTo(x * width, y * height) : draw.moveTo(x * width, y * height)));
  const first = points[0];
  // A single point is a dab.
  if (points.length === 1 && first) draw.lineTo(first.x * width + 0.01, first.y * height);
  draw.stroke();
}

/** The grey picture of a region, its edge softened by so many shares of its longer side. */
export async function maskFile(mask: HTMLCanvasElement, soft: number): Promise<File> {
  const grey = document.createElement("canvas");
  grey.width = mask.width;
  grey.height = mask.height;
  const draw = grey.getContext("2d")!;
  draw.fillStyle = "#000";
  draw.fillRect(0, 0, grey.width, grey.height);
  if (soft > 0) draw.filter = `blur(${soft * Math.max(mask.width, mask.height)}px)`;
  draw.drawImage(mask, 0, 0);
  return asFile(grey, "region");
}

/** The grey picture of strokes that say in or out: white in, black out, and the middle grey where nothing is said; over `kept`, what was
    said before. */
export async function saidFile(size: { width: number; height: number }, steps: Stroke[], kept: CanvasImageSource | null): Promise<File> {
  const grey = document.createElement("canvas");
  grey.width = size.width;
  grey.height = size.height;
  const draw = grey.getContext("2d")!;
  draw.fillStyle = "#808080";
  draw.fillRect(0, 0, size.width, size.height);
  if (kept) draw.drawImage(kept, 0, 0, size.width, size.height);
  draw.lineCap = draw.lineJoin = "round";
  for (const stroke of steps) {
    draw.strokeStyle = stroke.erase ? "#000" : "#fff";
    drawStroke(draw, stroke, size);
  }
  return asFile(grey, "subject");
}

async function asFile(grey: HTMLCanvasElement, name: string): Promise<File> {
  const blob = await new Promise<Blob | null>((done) => grey.toBlob(done, "image/png"));
  if (!blob) throw new Error(`The ${name} could not be kept; it is too large for this browser.`);
  return new File([blob], `${name}.png`, { type: "image/png" });
}

/** A kept region, from grey to opacity. */
export function asOpacity(picture: HTMLImageElement): HTMLCanvasElement {
  const canvas = document.createElement("canvas");
  canvas.width = picture.naturalWidth;
  canvas.height = picture.naturalHeight;
  const draw = canvas.getContext("2d", { willReadFrequently: true })!;
  draw.drawImage(picture, 0, 0);
  const data = draw.getImageData(0, 0, canvas.width, canvas.height);
  for (let k = 0; k < data.data.length; k += 4) {
    data.data[k + 3] = data.data[k]!;
    data.data[k] = data.data[k + 1] = data.data[k + 2] = 255;
  }
  draw.putImageData(data, 0, 0);
  return canvas;
}
