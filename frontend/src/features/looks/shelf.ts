import { create } from "zustand";
import { persist } from "zustand/middleware";

const MOST_RECENT = 6;

interface LookShelf {
  favourites: string[];
  recent: string[];
  toggle: (name: string) => void;
  used: (name: string) => void;
}

/** Looks the artist has starred, and those used last. */
export const useLookShelf = create<LookShelf>()(
  persist(
    (set) => ({
      favourites: [],
      recent: [],
      toggle: (name) => set((s) => ({ favourites: s.favourites.includes(name) ? s.favourites.filter((n) => n !== name) : [...s.favourites, name] })),
      used: (name) => set((s) => ({ recent: [name, ...s.recent.filter((n) => n !== name)].slice(0, MOST_RECENT) })),
    }),
    { name: "warmtide-looks" },
  ),
);
