import { useEffect } from "react";
import { create } from "zustand";

interface FocusAsked {
  /** What is to have the focus, and how often that was asked. */
  wanted: string | null;
  times: number;
  ask: (name: string) => void;
}

/** Which control a key wants the focus on; the control takes it once it is there. */
export const useFocusOf = create<FocusAsked>((set) => ({
  wanted: null,
  times: 0,
  ask: (name) => set((s) => ({ wanted: name, times: s.times + 1 })),
}));

/** Gives the focus to what `find` finds whenever a key asks for `name`, at once or when it first appears. */
export function useTakesFocus(name: string, find: () => HTMLElement | null) {
  const { wanted, times } = useFocusOf();
  useEffect(() => {
    if (wanted !== name) return;
    const node = find();
    if (!node) return;
    node.focus();
    useFocusOf.setState({ wanted: null });
    // Asked anew each time a key is pressed.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [wanted, times, name]);
}
