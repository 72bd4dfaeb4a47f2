import { useRef, useState } from "react";
import { healSelection, keepPicture } from "../../api/hand";
import { above, changed, freshId, wholePlace, within, type Layer, type Stack, type Point } from "../../primitives/stack";
import { asBlob, blank, composed, copyOf, drawOn, filledWhite, greyOf, masked, opacityOf, pictureOf, remember, type Canvas } from "./canvas";
import { retouched, underStroke } from "./retouch";
import { selectionCanvas } from "./selections";
import { useHand, withColour, type Mend } from "./store";
import { drawStroke, erased, strokeWithin, type Stroke } from "./strokes";
import { asLayer, boxed } from "./useBase";
import type { StackHand } from "./useStack";

export interface Painting {
  hand: StackHand;
  stack: Stack;
  canvases: ReadonlyMap<string, Canvas>;
  showPainted: (id: string, canvas: Canvas) => void;
  letGo: (id: string, canvas: Canvas) => void;
}

const PAINTED = "painted";

/** A layer as strokes have left it that are not kept yet: what it shows, its mask, and how many there are. */
interface Pending {
  layer: Layer;
  canvas: Canvas;
  mask: Canvas | null;
  strokes: number;
}

/** What a finished stroke does to the stack. A hand is faster than keeping: each stroke goes on from the one before, and they are
 * kept in their order. */
export function useStrokeActs({ hand, stack, canvases, showPainted, letGo }: Painting) {
  const held = useHand();
  const pending = useRef(new Map<string, Pending>());
  const line = useRef<Promise<unknown>>(Promise.resolve());
  const [made, setMade] = useState<Layer[]>([]);
  const layer = stack.layers.find((l) => l.id === held.picked);

  /** Show a stroke's outcome at once, and keep it after those before it. */
  const keepStroke = (next: Omit<Pending, "strokes">, file: Canvas, change: (stack: Stack, picture: string) => Stack) => {
    const { id } = next.layer;
    pending.current.set(id, { ...next, strokes: (pending.current.get(id)?.strokes ?? 0) + 1 });
    showPainted(id, next.canvas);
    const keep = async () => {
      try {
        const { picture } = await keepPicture(await asBlob(file));
        remember(picture, file);
        hand.edit((s) => change(s, picture));
        await hand.told();
      } finally {
        const now = pending.current.get(id)!;
        if (now.strokes === 1) pending.current.delete(id);
        else pending.current.set(id, { ...now, strokes: now.strokes - 1 });
        setMade((layers) => (pending.current.has(id) ? layers : layers.filter((l) => l.id !== id)));
        letGo(id, next.canvas);
      }
    };
    const done = line.current.then(keep, keep);
    line.current = done.catch(() => undefined);
    return done;
  };

  /** The layer that is painted on: the picked one if it is paint, else a new one above it. */
  const paint = (stroke: Stroke) => {
    const waiting = held.picked ? pending.current.get(held.picked) : undefined;
    const target = waiting?.layer ?? layer;
    const own = target?.origin === PAINTED && !target.locked && !target.mask ? target : undefined;
    const before = own && (waiting?.canvas ?? canvases.get(own.id));
    const canvas = before ? copyOf(before) : blank(stack.width, stack.height);
    const draw = drawOn(canvas);
    if (held.selection) {
      const ink = blank(stack.width, stack.height);
      drawStroke(drawOn(ink), stroke);
      draw.drawImage(masked(ink, selectionCanvas(held.selection)), 0, 0);
    } else drawStroke(draw, stroke);
    const paper: Layer = own ?? { id: freshId(stack, "p"), name: "paint", picture: null, ground: null, mask: null, place: wholePlace(stack), opacity: 1, shown: true, locked: false, origin: PAINTED };
    if (!own) setMade((layers) => [...layers, paper]);
    const under = held.picked;
    held.set({ picked: paper.id, recent: withColour(held.recent, stroke.colour) });
    return keepStroke({ layer: paper, canvas, mask: null }, canvas, (s, picture) => (s.layers.some((l) => l.id === paper.id) ? changed(s, paper.id, { picture }) : above(s, under, { ...paper, picture })));
  };

  /** A stroke into the picked layer's mask: nothing of it is lost. */
  const erase = async (stroke: Stroke, restore: boolean) => {
    if (!layer?.picture) throw new Error("Pick a layer with a picture first; a ground is changed by what lies over it.");
    if (layer.locked) throw new Error(`“${layer.name}” is locked; unlock it in the list, then erase.`);
    const own = await pictureOf(layer.picture);
    const before = pending.current.get(layer.id)?.mask ?? (layer.mask ? opacityOf(await pictureOf(layer.mask)) : filledWhite(own.width, own.height));
    const inside = strokeWithin(stroke, (p) => within(layer.place, own.width, own.height, p), own.width / layer.place.width);
    const mask = erased(before, inside, restore);
    await keepStroke({ layer, canvas: masked(own, mask), mask }, greyOf(mask), (s, picture) => changed(s, layer.id, { mask: picture }));
  };

  const layMend = (name: string, kept: string, box: { left: number; top: number; width: number; height: number }) =>
    hand.edit((s) => above(s, held.picked, asLayer(freshId(s, "m"), name, kept, boxed(box), "mended")));

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
  return { paint, erase, mend, retouch, made };
}
