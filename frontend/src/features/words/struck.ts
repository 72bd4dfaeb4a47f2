import { create } from "zustand";
import { persist } from "zustand/middleware";

interface Struck {
  /** Per source: phrases of its description that the artist struck. */
  struck: Record<string, string[]>;
  strike: (source: string, text: string) => void;
  restore: (source: string) => void;
}

export const useStruck = create<Struck>()(
  persist(
    (set) => ({
      struck: {},
      strike: (source, text) => set((s) => ({ struck: { ...s.struck, [source]: [...(s.struck[source] ?? []), text] } })),
      restore: (source) => set((s) => ({ struck: { ...s.struck, [source]: [] } })),
    }),
    { name: "warmtide-struck" },
  ),
);
