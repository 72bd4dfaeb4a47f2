import { useRef, useState, type PointerEvent } from "react";
import { keepPicture, healSelection } from "../../api/hand";
import { useNotices } from "../../common/notices";
import { boundsOf, byColour, insideOf, joined, meanColour, none, softened, type Selection } from "../../primitives/select";
import { above, changed, freshId, layerAt, wholePlace, within, type Layer, type Point, type Stack } from "../../primitives/stack";
import type { View } from "../../primitives/view";
import { asBlob, blank, composed, copyOf, drawOn, filledWhite, greyOf, masked, opacityOf, pictureOf, remember, type Canvas } from "./canvas";
import { retouched, underStroke } from "./retouch";
import { useHand, withColour, type Mend } from "./store";
import { drawStroke, erased, strokeWithin, type Stroke } from "./strokes";
import type { StackHand } from "./useStack";

interface Given {
  hand: StackHand;
  stack: Stack;
  canvases: ReadonlyMap<string, Canvas>;
  view: View;
  showPainted: (layer: Layer, canvas: Canvas) => void;
}

const PAINTED = "painted";
/** Pixels of the screen within which a click is on the same place. */
const CLOSE = 8;

/** What the pointer does on the picture with the tool that is in the hand. */
export function useTools({ hand, stack, canvases, view, showPainted }: Given) {
  const held = useHand();
  const [stroke, setStroke] = useState<Stroke | null>(null);
  const [line, setLine] = useState<Point[]>([]);
  const drawing = useRef<Stroke | null>(null);
  const around = useRef<Point[]>([]);
  /** Corners of a line that is drawn click by click. */
  const corners = useRef<Point[]>([]);
  const from = useRef<Point | null>(null);
  const layer = stack.layers.find((l) => l.id === held.picked);

  const pointOf = (event: PointerEvent): Point => {
    const box = event.currentTarget.getBoundingClientRect();
    return { x: (event.clientX - box.left - view.x) / view.scale, y: (event.clientY - box.top - view.y) / view.scale };
  };
  const picture = () => {
    const whole = composed(stack, canvases);
    return drawOn(whole).getImageData(0, 0, whole.width, whole.height);
  };
  const select = (next: Selection, event: { shiftKey: boolean; altKey: boolean }) => {
    const how = event.shiftKey ? "add" : event.altKey ? "away" : held.join;
    const before = held.selection ?? none(stack.width, stack.height);
    held.set({ selection: joined(before, next, held.selection ? how : "new") });
  };

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
  const mend = async (done: Stroke) => {
    const source = from.current;
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

  const closeLine = (event: { shiftKey: boolean; altKey: boolean }) => {
    const drawn = corners.current;
    corners.current = [];
    setLine([]);
    if (drawn.length > 2) select(insideOf(drawn, stack.width, stack.height), event);
  };

  const down = (event: PointerEvent) => {
    if (event.button !== 0) return;
    const at = pointOf(event);
    event.currentTarget.setPointerCapture(event.pointerId);
    if (held.tool === "sample" || (held.tool === "paint" && event.altKey)) {
      const colour = meanColour(picture(), at, held.mean);
      held.set({ colour, recent: withColour(held.recent, colour), tool: held.tool === "sample" ? held.before : held.tool });
      return;
    }
    if (held.tool === "colour") return select(byColour(picture(), at, held.tolerance, held.together), event);
    if (held.tool === "lasso") {
      const first = corners.current[0];
      if (corners.current.length > 2 && first && Math.hypot(first.x - at.x, first.y - at.y) * view.scale < CLOSE) return closeLine(event);
      around.current = [at];
      setLine([...corners.current, at]);
      return;
    }
    if (held.tool === "mend" && held.mend === "copy" && event.altKey) {
      from.current = at;
      useNotices.getState().say("Copied from here; now paint where it should lie.");
      return;
    }
    if (held.tool === "erase" && !layer) held.set({ picked: layerAt(stack, at)?.id ?? null });
    const pen = event.pointerType === "pen";
    const over = held.tool === "erase" ? (held.restore ? "rgba(150,220,150,.6)" : "rgba(255,90,60,.55)") : held.tool === "mend" ? "rgba(255,214,140,.7)" : held.colour;
    drawing.current = { points: [{ ...at, pressure: pen ? event.pressure : 0.5 }], width: held.width, soft: held.soft, opacity: held.opacity, colour: over, pen };
    setStroke(drawing.current);
  };
  const move = (event: PointerEvent) => {
    const at = pointOf(event);
    if (around.current.length) around.current = [...around.current, at];
    if (around.current.length || corners.current.length) setLine([...corners.current, ...around.current, at]);
    if (!drawing.current) return;
    const more = (event.nativeEvent.getCoalescedEvents?.() ?? []).map((e) => ({ ...pointOf({ ...event, clientX: e.clientX, clientY: e.clientY, currentTarget: event.currentTarget } as PointerEvent), pressure: drawing.current!.pen ? e.pressure : 0.5 }));
    drawing.current = { ...drawing.current, points: [...drawing.current.points, ...(more.length ? more : [{ ...at, pressure: 0.5 }])] };
    setStroke(drawing.current);
  };
  const up = (event: PointerEvent) => {
    if (around.current.length) {
      const drawn = around.current;
      around.current = [];
      const spread = Math.max(...drawn.map((p) => Math.hypot(p.x - drawn[0]!.x, p.y - drawn[0]!.y)));
      if (spread * view.scale < CLOSE) {
        // A click is a corner of a line that is not closed yet.
        corners.current = [...corners.current, drawn[0]!];
        setLine(corners.current);
        return;
      }
      corners.current = [...corners.current, ...drawn];
      return closeLine(event);
    }
    const done = drawing.current;
    drawing.current = null;
    if (!done) return;
    const act = held.tool === "erase" ? erase(done, held.restore || event.altKey) : held.tool === "mend" ? (held.mend === "copy" ? mend(done) : retouch(done, held.mend)) : paint(done);
    void hand.during(act).then(() => !drawing.current && setStroke(null));
    if (held.tool === "paint") setStroke(null);
  };
  return { stroke, line, down, move, up, picture };
}

/** A selection as opacity. */
export function selectionCanvas({ width, height, plane }: Selection): Canvas {
  const canvas = blank(width, height);
  const draw = drawOn(canvas);
  const data = draw.createImageData(width, height);
  for (let k = 0; k < plane.length; k++) data.data.set([255, 255, 255, plane[k]!], 4 * k);
  draw.putImageData(data, 0, 0);
  return canvas;
}

/** A selection as a grey file for the server; null where nothing is selected. */
export function selectionFile(selection: Selection | null, soft: number): Promise<Blob> {
  if (!selection || !boundsOf(selection)) return Promise.reject(new Error("Nothing is selected; draw round what you mean with the lasso (L) first."));
  return asBlob(greyOf(selectionCanvas(softened(selection, soft))));
}
