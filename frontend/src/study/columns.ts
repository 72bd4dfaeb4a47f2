import { create } from "zustand";

/** Where the columns of the sheet stand, in pixels from the left of the place that holds it and its readings. */
export interface Columns {
  /** Middle of the first column, and from one to the next. */
  first: number;
  step: number;
  count: number;
}

interface ColumnPlaces {
  columns: Columns | null;
  tell: (columns: Columns | null) => void;
}

const same = (a: Columns | null, b: Columns | null) =>
  a === b || (a !== null && b !== null && a.first === b.first && a.step === b.step && a.count === b.count);

/** Told by the sheet whenever its columns move, so that the readings under it stay under them. */
export const useColumns = create<ColumnPlaces>((set) => ({
  columns: null,
  tell: (columns) => set((s) => (same(s.columns, columns) ? s : { columns })),
}));
