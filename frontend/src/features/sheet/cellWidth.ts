import { create } from "zustand";

interface CellWidth {
  /** Width of a cell that the artist chose; null fills the room. */
  wide: number | null;
  setWide: (wide: number | null) => void;
}

/** Apart from the desk's own state: a pinch draws the sheet anew and nothing else. */
export const useCellWidth = create<CellWidth>((set) => ({ wide: null, setWide: (wide) => set({ wide }) }));
