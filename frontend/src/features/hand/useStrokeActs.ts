import { healSelection, keepPicture } from "../../api/hand";
import { above, changed, freshId, wholePlace, within, type Layer, type Stack, type Point } from "../../primitives/stack";
import { asBlob, blank, composed, copyOf, drawOn, filledWhite, greyOf, masked, opacityOf, pictureOf, remember, type Canvas } from "./canvas";
import { retouched, underStroke } from "./retouch";
import { selectionCanvas } from "./selections";
import { useHand, withColour, type Mend } from "./store";
import { drawStroke, erased, strokeWithin, type Stroke } from "./strokes";
import type { StackHand } from "./useStack";

interface Given {
  hand: StackHand;
  stack: Stack;
  canvases: ReadonlyMap<string, Canvas>;
  showPainted: (layer: Layer, canvas: Canvas) => void;
}

const PAINTED = "painted";

/** What a finished stroke does to the stack. */
export function useStrokeActs({ hand, stack, canvases, showPainted }: Given) {
  const held = useHand();
  const layer = stack.layers.find((l) => l.id === held.picked);

  /** The layer that is painted on: the picked one if it is paint, else a new one above it. */
  const paint = (done: Stroke) => {
    const own = layer?.origin === PAINTED && !layer.locked && !layer.mask ? layer : undefined;
    const canvas = own ? copyOf(canvases.get(own.id) ?? blank(stack.width, stack.height)) : blank(stack.width, stack.height);
    const draw = drawOn(canvas);
    if (held.selection) {
      const ink = blank(stack.width, stack.height);
      drawStroke(drawOn(ink), done);
      draw.drawImage(masked(ink, selectionCanvas(held.selection)), 0, 0);
    } else drawStroke(draw, done);
    const id = own?.id ?? freshId(stack, "p");
    const made: Layer = own ?? { id, name: "paint", picture: null, ground: null, mask: null, place: wholePlace(stack), opacity: 1, shown: true, locked: false, origin: PAINTED };
    showPainted(made, canvas);
    held.set({ picked: id, recent: withColour(held.recent, done.colour) });
    return asBlob(canvas)
      .then(keepPicture)
      .then(({ picture: kept }) => {
        remember(kept, canvas);
        hand.edit((s) => (s.layers.some((l) => l.id === id) ? changed(s, id, { picture: kept }) : above(s, held.picked, { ...made, picture: kept })));
      });
  };

  /** A stroke into the picked layer's mask: nothing of it is lost. */
  const erase = async (done: Stroke, restore: boolean) => {
    if (!layer?.picture) throw new Error("Pick a layer with a picture first; a ground is changed by what lies over it.");
    if (layer.locked) throw new Error(`“${layer.name}” is locked; unlock it in the list, then erase.`);
    const own = await pictureOf(layer.picture);
    const before = layer.mask ? opacityOf(await pictureOf(layer.mask)) : filledWhite(own.width, own.height);
    const inside = strokeWithin(done, (p) => within(layer.place, own.width, own.height, p), own.width / layer.place.width);
    const after = erased(before, inside, restore);
    showPainted(layer, masked(own, after));
    const mask = greyOf(after);
    const kept = await keepPicture(await asBlob(mask));
    remember(kept.picture, mask);
    hand.edit((s) => changed(s, layer.id, { mask: kept.picture }));
  };

  const layMend = (name: string, kept: string, box: { left: number; top: number; width: number; height: number }) =>
    hand.edit((s) => above(s, held.picked, { id: freshId(s, "m"), name, picture: kept, ground: null, mask: null, place: { x: box.left + box.width / 2, y: box.top + box.height / 2, width: box.width, height: box.height, turn: 0, across: false, down: false }, opacity: 1, shown: true, locked: false, origin: "mended" }));

  /** A stroke that smooths, sharpens, lightens or darkens what is there. */
  const retouch = async (done: Stroke, mend: Exclude<Mend, "copy">) => {
    const under = underStroke(retouched(composed(stack, canvases), mend), done);
    if (!under) return;
    const kept = await keepPicture(await asBlob(under.canvas));
    layMend(mend, kept.picture, { ...under, width: kept.width, height: kept.height });
  };

  /** A stroke that copies what lies as far from it as the place that was set. */
  const mend = async (done: Stroke, source: Point | null) => {
    if (!source) throw new Error("Say first what is copied: Alt and a click on it.");
    const first = done.points[0]!;
    const mask = blank(stack.width, stack.height);
    const draw = drawOn(mask);
    draw.fillStyle = "#000";
    draw.fillRect(0, 0, mask.width, mask.height);
    drawStroke(draw, { ...done, opacity: 1 }, "#fff");
    await hand.told();
    const patch = await healSelection(hand.view!.id, await asBlob(mask), { across: Math.round(source.x - first.x), down: Math.round(source.y - first.y), mirrored: held.mirrored, matched: held.matched });
    layMend("mend", patch.picture, patch);
  };
  return { paint, erase, mend, retouch };
}
