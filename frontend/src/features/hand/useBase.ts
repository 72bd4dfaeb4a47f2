import { useState } from "react";
import { sayFault, useNotices } from "../../common/notices";
import { above, changed, freshId, type Layer, type Place, type Stack } from "../../primitives/stack";
import type { Canvas } from "./canvas";
import { useHand } from "./store";
import type { StackHand } from "./useStack";

export interface Given {
  studyId: string;
  hand: StackHand;
  stack: Stack;
  /** Every layer's pixels, once they have come: a key may be quicker than a large picture. */
  seen: () => Promise<ReadonlyMap<string, Canvas>>;
}

/** How far a selection's edge fades where it cuts a picture, pixels. */
export const SOFT_EDGE = 2;

export const asLayer = (id: string, name: string, picture: string, place: Place, origin: string): Layer => ({ id, name, picture, ground: null, mask: null, place, opacity: 1, shown: true, locked: false, origin });

/** A place from its left and top. */
export const boxed = ({ left, top, width, height }: { left: number; top: number; width: number; height: number }): Place => ({ x: left + width / 2, y: top + height / 2, width, height, turn: 0, across: false, down: false });

/** What all acts share: the picked layer, that one is under way, a new layer in the hand. */
export function useBase({ hand, stack }: Given) {
  const held = useHand();
  const [busy, setBusy] = useState<string | null>(null);
  const layer = stack.layers.find((l) => l.id === held.picked);
  const movable = layer && !layer.locked ? layer : null;

  const working = (what: string, act: () => Promise<unknown>) => {
    if (busy) return useNotices.getState().say(`${busy} This comes first; then the other can follow.`);
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
  return { held, busy, layer, movable, working, put };
}

export type Base = ReturnType<typeof useBase>;
