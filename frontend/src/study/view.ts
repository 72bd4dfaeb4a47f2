import { create } from "zustand";
import type { Spot } from "../primitives/spot";

/** What lies over the pictures: one thing at a time. */
export type Over = "looks" | "drawer";

interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

interface Shown {
  over: Over | null;
  /** Source and a draft in place of the sheet. */
  live: boolean;
  /** Readings in the cells. */
  reading: boolean;
  /** What can be tried from the take. */
  trying: boolean;
  describing: boolean;
  /** One spot that every cell shows enlarged. */
  spot: Spot | null;
  /** A place of the source to box. */
  region: Box | null;
}

interface DeskView extends Shown {
  show: (part: Partial<Shown>) => void;
  /** Opens it over the pictures, or closes it where it is open. */
  toggle: (over: Over) => void;
  reset: (part: Partial<Shown>) => void;
}

const NOTHING: Shown = { over: null, live: false, reading: false, trying: false, describing: false, spot: null, region: null };

/** What is open on the desk. */
export const useDeskView = create<DeskView>((set) => ({
  ...NOTHING,
  show: (part) => set(part),
  toggle: (over) => set((s) => ({ over: s.over === over ? null : over })),
  reset: (part) => set({ ...NOTHING, ...part }),
}));
