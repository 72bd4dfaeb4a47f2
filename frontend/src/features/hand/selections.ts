/** Selections as canvases and files. */
import { boundsOf, softened, type Selection } from "../../primitives/select";
import { asBlob, blank, drawOn, greyOf, type Canvas } from "./canvas";

/** A selection as opacity. */
export function selectionCanvas({ width, height, plane }: Selection): Canvas {
  const canvas = blank(width, height);
  const draw = drawOn(canvas);
  const data = draw.createImageData(width, height);
  for (let k = 0; k < plane.length; k++) data.data.set([255, 255, 255, plane[k]!], 4 * k);
  draw.putImageData(data, 0, 0);
  return canvas;
}

/** A selection as a grey file for the server; where nothing is selected it fails and says so. */
export function selectionFile(selection: Selection | null, soft: number): Promise<Blob> {
  if (!selection || !boundsOf(selection)) return Promise.reject(new Error("Nothing is selected; draw round what you mean with the lasso (L) first."));
  return asBlob(greyOf(selectionCanvas(softened(selection, soft))));
}
