import { useRef, useState, type PointerEvent } from "react";
import { useNotices } from "../../common/notices";
import { byColour, insideOf, joined, meanColour, none, type Selection } from "../../primitives/select";
import { layerAt, type Point } from "../../primitives/stack";
import type { View } from "../../primitives/view";
import { composed, drawOn } from "./canvas";
import { useHand, withColour } from "./store";
import type { Stroke } from "./strokes";
import { useStrokeActs, type Painting } from "./useStrokeActs";

interface Given extends Painting {
  view: View;
}

/** Pixels of the screen within which a click is on the same place. */
const CLOSE = 8;

/** What the pointer does on the picture with the tool that is in the hand. */
export function useTools({ view, ...painting }: Given) {
  const { hand, stack, canvases } = painting;
  const held = useHand();
  const [stroke, setStroke] = useState<Stroke | null>(null);
  const [line, setLine] = useState<Point[]>([]);
  const drawing = useRef<Stroke | null>(null);
  const around = useRef<Point[]>([]);
  /** Corners of a line that is drawn click by click. */
  const corners = useRef<Point[]>([]);
  const from = useRef<Point | null>(null);
  const layer = stack.layers.find((l) => l.id === held.picked);
  const { paint, erase, mend, retouch, made } = useStrokeActs(painting);

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
    const act = held.tool === "erase" ? erase(done, held.restore || event.altKey) : held.tool === "mend" ? (held.mend === "copy" ? mend(done, from.current) : retouch(done, held.mend)) : paint(done);
    void hand.during(act).then(() => !drawing.current && setStroke(null));
    if (held.tool === "paint") setStroke(null);
  };
  /** Give up a line that is not closed yet; whether there was one. */
  const giveUp = () => {
    const open = corners.current.length > 0;
    corners.current = [];
    setLine([]);
    return open;
  };
  return { stroke, line, made, down, move, up, giveUp };
}
