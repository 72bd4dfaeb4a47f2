import { create } from "zustand";

interface Place {
  /** Per study: the sweep on the sheet and the take under the hand. */
  sweep: Record<string, string | undefined>;
  take: Record<string, string | undefined>;
  blinking: boolean;
  showSweep: (study: string, sweep: string) => void;
  pick: (study: string, take: string | undefined) => void;
  blink: (on: boolean) => void;
}

export const usePlace = create<Place>((set) => ({
  sweep: {},
  take: {},
  blinking: false,
  showSweep: (study, sweep) => set((s) => ({ sweep: { ...s.sweep, [study]: sweep } })),
  pick: (study, take) => set((s) => ({ take: { ...s.take, [study]: take } })),
  blink: (blinking) => set({ blinking }),
}));
