import { create } from "zustand";

interface Place {
  /** Per study: the sweep on the sheet and the take under the hand. */
  sweep: Record<string, string | undefined>;
  take: Record<string, string | undefined>;
  /** The source of the next takes. */
  source: Record<string, string | undefined>;
  /** Per study: takes chosen together. */
  chosen: Record<string, string[]>;
  blinking: boolean;
  showSweep: (study: string, sweep: string) => void;
  showSource: (study: string, source: string) => void;
  pick: (study: string, take: string | undefined) => void;
  choose: (study: string, takes: string[]) => void;
  blink: (on: boolean) => void;
}

export const usePlace = create<Place>((set) => ({
  sweep: {},
  take: {},
  source: {},
  chosen: {},
  blinking: false,
  showSweep: (study, sweep) => set((s) => ({ sweep: { ...s.sweep, [study]: sweep }, chosen: { ...s.chosen, [study]: [] } })),
  showSource: (study, source) => set((s) => ({ source: { ...s.source, [study]: source } })),
  pick: (study, take) => set((s) => ({ take: { ...s.take, [study]: take } })),
  choose: (study, takes) => set((s) => ({ chosen: { ...s.chosen, [study]: takes } })),
  blink: (blinking) => set({ blinking }),
}));
