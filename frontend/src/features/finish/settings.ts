import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { SheetWish, Wish } from "../../api/finish";

interface Settings {
  /** Ways of making a picture larger that are ticked. */
  ways: string[];
  dpi: number;
  format: string;
  quality: number;
  depth: 8 | 16;
  profile: boolean;
  ground: string | null;
  recipe: boolean;
  pattern: string | null;
  sheet: SheetWish;
  set: (part: Partial<Omit<Settings, "set">>) => void;
}

/** How an artist finishes, remembered. */
export const useFinishSettings = create<Settings>()(
  persist(
    (set) => ({ ways: ["painted", "edges"], dpi: 300, format: "png", quality: 90, depth: 8, profile: true, ground: null, recipe: true, pattern: null, sheet: { paper: "a4", landscape: true, columns: 4, labels: true, readings: true, recipes: false, title: "study" }, set: (part) => set(part) }),
    { name: "warmtide-finish" },
  ),
);

/** The wishes of a file as they are sent. */
export const wishOf = (settings: Pick<Settings, "dpi" | "quality" | "depth" | "profile" | "ground" | "recipe">, size: number | null, deep: boolean): Wish => ({
  size, dpi: settings.dpi, depth: deep ? settings.depth : 8, quality: settings.quality, profile: settings.profile, ground: settings.ground, recipe: settings.recipe,
});
