import { sayFault } from "../../common/notices";
import { above, changed, freshId, reordered, without, type Layer } from "../../primitives/stack";
import type { Base, Given } from "./useBase";

/** Pixels by which a layer that is laid once more stands aside. */
const ASIDE = 12;

/** What is done to the picked layer. */
export function useLayerActs({ hand }: Given, { held, layer, movable }: Base) {
  /** A part of the layer is another now; `kind` for what is dragged or held. */
  const edit = (part: Partial<Layer>, kind?: string) => layer && hand.edit((s) => changed(s, layer.id, part), kind && `${kind} ${layer.id}`);
  const nudge = (dx: number, dy: number) => movable && hand.edit((s) => changed(s, movable.id, { place: { ...movable.place, x: movable.place.x + dx, y: movable.place.y + dy } }), `nudge ${movable.id}`);
  const flip = (part: "across" | "down") => movable && edit({ place: { ...movable.place, [part]: !movable.place[part] } });
  const again = () => layer && hand.edit((s) => above(s, layer.id, { ...layer, id: freshId(s, "d"), locked: false, place: { ...layer.place, x: layer.place.x + ASIDE, y: layer.place.y + ASIDE } }));
  const remove = () => {
    if (!movable) return layer && sayFault(new Error(`“${layer.name}” is locked; unlock it in the list, then take it away.`));
    hand.edit((s) => without(s, movable.id));
    held.set({ picked: null });
  };
  const order = (by: number) => layer && hand.edit((s) => reordered(s, layer.id, by));
  return { edit, nudge, flip, again, remove, order };
}
