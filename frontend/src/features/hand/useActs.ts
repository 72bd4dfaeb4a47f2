import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { studyKey } from "../../api/queries";
import { cutPicture, fillSelection, giveDepth, giveRegion, keepPicture, makeSource, thingPicture, type Patch, type Thing } from "../../api/hand";
import { sayFault, useNotices } from "../../common/notices";
import { boundsOf, grown, inverted, joined, none, softened, type Selection } from "../../primitives/select";
import { above, changed, freshId, onto, placeNew, reordered, wholePlace, without, type Layer, type Place, type Point, type Stack } from "../../primitives/stack";
import { usePlace } from "../../study/place";
import { asBlob, blank, composed, copyOf, drawOn, filledWhite, greyOf, loaded, masked, opacityOf, pictureOf, type Canvas } from "./canvas";
import { useHand } from "./store";
import { selectionCanvas, selectionFile } from "./useTools";
import type { StackHand } from "./useStack";

interface Given {
  studyId: string;
  hand: StackHand;
  stack: Stack;
  canvases: ReadonlyMap<string, Canvas>;
}

/** Of the whole, how large a thing of the library or a file is laid in. */
const LAID = 0.6;
const METRES_HIGH = 8;
const SOFT_EDGE = 2;
/** Room around a selection that is cut out, so that its edge is found. */
const AROUND = 0.12;

const asLayer = (id: string, name: string, picture: string, place: Place, origin: string): Layer => ({ id, name, picture, ground: null, mask: null, place, opacity: 1, shown: true, locked: false, origin });

/** What is done to the stack by a button or a key. */
export function useActs({ studyId, hand, stack, canvases }: Given) {
  const held = useHand();
  const [busy, setBusy] = useState<string | null>(null);
  const navigate = useNavigate();
  const queries = useQueryClient();
  const showSource = usePlace((s) => s.showSource);
  const layer = stack.layers.find((l) => l.id === held.picked);
  const movable = layer && !layer.locked ? layer : null;

  const working = (what: string, act: () => Promise<unknown>) => {
    if (busy) return;
    setBusy(what);
    void act().catch(sayFault).finally(() => setBusy(null));
  };
  /** A new layer above the picked one, in the hand at once; what it takes the place of is hidden. */
  const put = (made: Layer, instead?: string) => {
    let id = "";
    hand.edit((s) => {
      id = freshId(s, made.id);
      const next = above(s, held.picked, { ...made, id });
      return instead ? changed(next, instead, { shown: false }) : next;
    });
    held.set({ picked: id, tool: "place" });
  };
  const laid = async (file: Blob, name: string, origin: string, place?: (size: { width: number; height: number }) => Place) => {
    const kept = await keepPicture(file);
    let id = "";
    hand.edit((s) => {
      id = freshId(s, "f");
      return above(s, null, asLayer(id, name.slice(0, 120) || "picture", kept.picture, place?.(kept) ?? placeNew(kept, s, LAID), origin));
    });
    held.set({ picked: id, tool: "place" });
  };
  const addFiles = (files: File[]) =>
    working("Bringing in…", async () => {
      for (const file of files) await laid(file, file.name.replace(/\.[^.]+$/, ""), "file");
    });
  /** Things of the library keep their size to one another: the whole is taken for so many metres. */
  const addThing = (thing: Thing, at?: Point) =>
    working("Laying it in…", async () => {
      const drawn = await loaded(thingPicture(thing.name));
      const tall = Math.min(Math.max((thing.metres / METRES_HIGH) * stack.height, 0.06 * stack.height), 0.9 * stack.height);
      await laid(await asBlob(drawn), thing.title, `library ${thing.name}`, () => ({ ...placeNew(thing, stack, 1, at), height: tall, width: (tall * thing.width) / thing.height }));
    });

  const patched = (patch: Patch, name: string) => put(asLayer("m", name, patch.picture, { x: patch.left + patch.width / 2, y: patch.top + patch.height / 2, width: patch.width, height: patch.height, turn: 0, across: false, down: false }, "mended"));
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
      const seen = masked(composed(stack, canvases), selectionCanvas(softened(held.selection!, SOFT_EDGE)));
      const part = blank(box.width, box.height);
      drawOn(part).drawImage(seen, -box.left, -box.top);
      const kept = await keepPicture(await asBlob(part));
      put(asLayer("c", name, kept.picture, { x: box.left + box.width / 2, y: box.top + box.height / 2, width: box.width, height: box.height, turn: 0, across: false, down: false }, "copied"));
      held.set({ selection: null });
    });

  /** Cut out what the picked layer is about, a person, or what the lasso ran round; the layer under it stays. */
  const cut = (what: "subject" | "person") =>
    working("Cutting out…", async () => {
      const box = held.selection && boundsOf(held.selection);
      const own = layer?.picture ? canvases.get(layer.id) : composed(stack, canvases);
      if (!own) throw new Error("Pick a layer with a picture first.");
      const from = box ? cropOf(composed(stack, canvases), box) : { canvas: own, left: 0, top: 0 };
      const kept = await keepPicture(await asBlob(from.canvas));
      const line = box ? outlineIn(box, from) : null;
      const found = await cutPicture({ picture: kept.picture, what, line });
      const place = !box && layer?.picture ? layer.place : { x: from.left + from.canvas.width / 2, y: from.top + from.canvas.height / 2, width: from.canvas.width, height: from.canvas.height, turn: 0, across: false, down: false };
      put(asLayer("c", "cut-out", found.picture, place, "cut out"), !box && movable ? movable.id : undefined);
      held.set({ selection: null });
      if (found.trust < 0.6) useNotices.getState().say("Cut out, but unsure: look at its edge, and mend it with the eraser (E).");
    });

  /** What the whole is about, or a person in it, as a selection. */
  const find = (what: "subject" | "person") =>
    working("Looking…", async () => {
      const kept = await keepPicture(await asBlob(composed(stack, canvases)));
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
      const chosen = selectionCanvas(softened(inside ? held.selection : inverted(held.selection), SOFT_EDGE));
      const mask = movable.mask ? copyOf(opacityOf(await pictureOf(movable.mask))) : filledWhite(own.width, own.height);
      const draw = drawOn(mask);
      // The selection of the whole, as it lies in the layer's own pixels.
      draw.globalCompositeOperation = "destination-in";
      draw.setTransform(new DOMMatrix([...onto(movable.place, own.width, own.height)]).inverse());
      draw.drawImage(chosen, 0, 0);
      const kept = await keepPicture(await asBlob(greyOf(mask)));
      hand.edit((s) => changed(s, movable.id, { mask: kept.picture }));
      held.set({ selection: null });
    });
  const addGround = () => {
    hand.edit((s) => ({ ...s, layers: [{ ...asLayer(freshId(s, "g"), "ground", "", wholePlace(s), "ground"), picture: null, ground: { top: held.colour, bottom: held.colour } }, ...s.layers] }));
  };
  const asDepthOf = (sourceId: string, name: string) =>
    working("Giving depth…", async () => {
      await giveDepth(sourceId, await asBlob(composed(stack, canvases)));
      await queries.invalidateQueries({ queryKey: studyKey(studyId) });
      useNotices.getState().say(`This picture is the depth guide of ${name} now: white is near. Its hold is in the drawer of the desk.`);
    });

  const select = (change: (selection: Selection) => Selection) => held.set({ selection: change(held.selection ?? none(stack.width, stack.height)) });
  /** What is solid of the picked layer as a selection. */
  const selectLayer = () => {
    const whole = layer && canvases.get(layer.id) ? composed({ ...stack, layers: [layer] }, canvases) : null;
    if (!whole) return sayFault(new Error("Pick a layer first."));
    held.set({ selection: joined(held.selection ?? none(whole.width, whole.height), alphaOf(whole), held.selection ? held.join : "new") });
  };

  const toDesk = (then: (sourceId: string) => Promise<unknown>, depth = false) =>
    working("Laying it together…", async () => {
      await hand.settled();
      const source = await makeSource(hand.view!.id, depth);
      await then(source.id);
      await queries.invalidateQueries({ queryKey: studyKey(studyId) });
      showSource(studyId, source.id);
      void navigate(`/study/${studyId}?live`);
    });
  const restyle = () => {
    if (!held.selection || !boundsOf(held.selection)) return toDesk(() => Promise.resolve());
    const mask = selectionFile(held.selection, SOFT_EDGE * 2);
    toDesk(async (id) => giveRegion(id, await mask));
  };

  const edit = (part: Partial<Layer>) => layer && hand.edit((s) => changed(s, layer.id, part));
  const nudge = (dx: number, dy: number) => movable && hand.edit((s) => changed(s, movable.id, { place: { ...movable.place, x: movable.place.x + dx, y: movable.place.y + dy } }));
  const flip = (part: "across" | "down") => movable && edit({ place: { ...movable.place, [part]: !movable.place[part] } });
  const turn = (by: number) => movable && edit({ place: { ...movable.place, turn: (((movable.place.turn ?? 0) + by + 540) % 360) - 180 } });
  const again = () => layer && hand.edit((s) => above(s, layer.id, { ...layer, id: freshId(s, "d"), locked: false, place: { ...layer.place, x: layer.place.x + 12, y: layer.place.y + 12 } }));
  const remove = () => {
    if (!movable) return layer && sayFault(new Error(`“${layer.name}” is locked; unlock it in the list, then take it away.`));
    hand.edit((s) => without(s, movable.id));
    held.set({ picked: null });
  };
  const order = (by: number) => layer && hand.edit((s) => reordered(s, layer.id, by));
  return {
    busy, layer, addFiles, addThing, fill, copySelection, cut, select, selectLayer, find, maskBy, addGround, asDepthOf, restyle, withDepth: () => toDesk(() => Promise.resolve(), true),
    edit, nudge, flip, turn, again, remove, order,
    invert: () => select(inverted), grow: (by: number) => select((s) => grown(s, by)), soften: (by: number) => select((s) => softened(s, by)), clear: () => held.set({ selection: null }),
  };
}

export type Acts = ReturnType<typeof useActs>;

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
