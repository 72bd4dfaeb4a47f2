import { cutPicture, fillSelection, keepPicture, type Patch } from "../../api/hand";
import { useNotices } from "../../common/notices";
import { boundsOf, grown, inverted, joined, none, softened, type Selection } from "../../primitives/select";
import { changed, onto } from "../../primitives/stack";
import { asBlob, blank, composed, copyOf, drawOn, filledWhite, greyOf, masked, opacityOf, pictureOf, type Canvas } from "./canvas";
import { selectionCanvas, selectionFile } from "./selections";
import { useHand } from "./store";
import { asLayer, boxed, SOFT_EDGE, type Base, type Given } from "./useBase";

/** Room around a selection that is cut out, so that its edge is found; trust below which a cut-out is said to be unsure. */
const AROUND = 0.12;
const UNSURE = 0.6;

/** What selections are made of, and what is made of them. */
export function useSelectActs({ hand, stack, seen }: Given, { held, layer, movable, working, put }: Base) {
  const patched = (patch: Patch, name: string) => put(asLayer("m", name, patch.picture, boxed(patch), "mended"));
  const fill = () =>
    working("Filling from around…", async () => {
      const mask = await selectionFile(held.selection, SOFT_EDGE);
      await hand.settled();
      patched(await fillSelection(hand.view!.id, mask), "fill");
      held.set({ selection: null });
    });

  /** The selection as a layer of its own: what is seen there. */
  const copySelection = (name = "copy") =>
    working("Copying…", async () => {
      const box = held.selection && boundsOf(held.selection);
      if (!box) throw new Error("Nothing is selected; draw round what you mean with the lasso (L) first.");
      const shown = masked(composed(stack, await seen()), selectionCanvas(softened(held.selection!, SOFT_EDGE)));
      const part = blank(box.width, box.height);
      drawOn(part).drawImage(shown, -box.left, -box.top);
      const kept = await keepPicture(await asBlob(part));
      put(asLayer("c", name, kept.picture, boxed(box), "copied"));
      held.set({ selection: null });
    });

  /** Cut out what the picked layer is about, a person, or what the lasso ran round; the layer that it was cut from is hidden. */
  const cut = (what: "subject" | "person") =>
    working("Cutting out…", async () => {
      const box = held.selection && boundsOf(held.selection);
      const canvases = await seen();
      const own = layer?.picture ? canvases.get(layer.id) : composed(stack, canvases);
      if (!own) throw new Error("Pick a layer with a picture first.");
      const from = box ? cropOf(composed(stack, canvases), box) : { canvas: own, left: 0, top: 0 };
      const kept = await keepPicture(await asBlob(from.canvas));
      const line = box ? outlineIn(box, from) : null;
      const found = await cutPicture({ picture: kept.picture, what, line });
      const place = !box && layer?.picture ? layer.place : boxed({ left: from.left, top: from.top, width: from.canvas.width, height: from.canvas.height });
      put(asLayer("c", "cut-out", found.picture, place, "cut out"), box ? undefined : layer?.id);
      held.set({ selection: null });
      if (found.trust < UNSURE) useNotices.getState().say("Cut out, but unsure: look at its edge, and mend it with the eraser (E).");
    });

  /** What the whole is about, or a person in it, as a selection. */
  const find = (what: "subject" | "person") =>
    working("Looking…", async () => {
      const kept = await keepPicture(await asBlob(composed(stack, await seen())));
      const found = await cutPicture({ picture: kept.picture, what });
      const next = alphaOf(await pictureOf(found.picture));
      held.set({ selection: joined(held.selection ?? none(next.width, next.height), next, held.selection ? held.join : "new") });
    });
  /** The picked layer is seen only where the selection is, or only where it is not. */
  const maskBy = (inside: boolean) =>
    working("Masking…", async () => {
      if (!movable?.picture) throw new Error("Pick a layer with a picture that is not locked; it is masked by the selection.");
      if (!held.selection) return;
      const own = await pictureOf(movable.picture);
      const chosen = selectionCanvas(softened(held.selection, SOFT_EDGE));
      const mask = movable.mask ? copyOf(opacityOf(await pictureOf(movable.mask))) : filledWhite(own.width, own.height);
      const draw = drawOn(mask);
      // The selection of the whole, as it lies in the layer's own pixels.
      draw.globalCompositeOperation = inside ? "destination-in" : "destination-out";
      draw.setTransform(new DOMMatrix([...onto(movable.place, own.width, own.height)]).inverse());
      draw.drawImage(chosen, 0, 0);
      const kept = await keepPicture(await asBlob(greyOf(mask)));
      hand.edit((s) => changed(s, movable.id, { mask: kept.picture }));
      held.set({ selection: null });
    });

  const select = (change: (selection: Selection) => Selection) => held.set({ selection: change(held.selection ?? none(stack.width, stack.height)) });
  /** What is solid of the picked layer as a selection. */
  const selectLayer = () =>
    working("Selecting…", async () => {
      if (!layer) throw new Error("Pick a layer first.");
      const whole = composed({ ...stack, layers: [layer] }, await seen());
      held.set({ selection: joined(held.selection ?? none(whole.width, whole.height), alphaOf(whole), held.selection ? held.join : "new") });
    });
  return {
    fill, copySelection, cut, find, maskBy, select, selectLayer,
    invert: () => select(inverted), grow: (by: number) => select((s) => grown(s, by)), soften: (by: number) => select((s) => softened(s, by)), clear: () => held.set({ selection: null }),
  };
}

/** How solid a canvas is, as a selection. */
function alphaOf(canvas: Canvas): Selection {
  const { data } = drawOn(canvas).getImageData(0, 0, canvas.width, canvas.height);
  return { width: canvas.width, height: canvas.height, plane: new Uint8ClampedArray(canvas.width * canvas.height).map((_, k) => data[4 * k + 3]!) };
}

interface Box {
  left: number;
  top: number;
  width: number;
  height: number;
}

/** A part of the whole with room around it. */
function cropOf(whole: Canvas, box: Box) {
  const margin = Math.round(AROUND * Math.max(box.width, box.height)) + 4;
  const [left, top] = [Math.max(box.left - margin, 0), Math.max(box.top - margin, 0)];
  const canvas = blank(Math.min(box.left + box.width + margin, whole.width) - left, Math.min(box.top + box.height + margin, whole.height) - top);
  drawOn(canvas).drawImage(whole, -left, -top);
  return { canvas, left, top };
}

/** A line around a selection's box, in shares of a part of the whole: what is drawn round. */
function outlineIn(box: Box, part: { canvas: Canvas; left: number; top: number }): number[][] {
  const { selection } = useHand.getState();
  if (!selection) return [];
  const rows: [number, number, number][] = [];
  for (let y = box.top; y < box.top + box.height; y += Math.max(Math.floor(box.height / 120), 1)) {
    const row = selection.plane.subarray(y * selection.width, (y + 1) * selection.width);
    const [first, last] = [row.findIndex((v) => v > 127), row.findLastIndex((v) => v > 127)];
    if (first >= 0) rows.push([y, first, last]);
  }
  const share = (x: number, y: number) => [(x - part.left) / part.canvas.width, (y - part.top) / part.canvas.height];
  return [...rows.map(([y, first]) => share(first, y)), ...rows.reverse().map(([y, , last]) => share(last, y))];
}
