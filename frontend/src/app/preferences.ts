import { create } from "zustand";
import { persist } from "zustand/middleware";

export const SURROUNDS = ["dark", "mid", "light"] as const;
export type Surround = (typeof SURROUNDS)[number];

interface Preferences {
  surround: Surround;
  setSurround: (surround: Surround) => void;
}

/** What an artist sets once for the whole program. */
export const usePreferences = create<Preferences>()(
  persist((set) => ({ surround: "mid", setSurround: (surround) => set({ surround }) }), { name: "warmtide-preferences" }),
);

export const SURROUND_CLASS: Record<Surround, string> = {
  dark: "bg-dark text-neutral-200",
  mid: "bg-mid text-white",
  light: "bg-light text-neutral-900",
};
