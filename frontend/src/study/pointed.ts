import { create } from "zustand";

interface Pointed {
  take: string | null;
  point: (take: string | null) => void;
}

/** The take that the hand is over, on the sheet or in the readings under it: each lights up in the other. */
export const usePointed = create<Pointed>((set) => ({ take: null, point: (take) => set({ take }) }));
