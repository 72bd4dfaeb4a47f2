import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { Recipe } from "../../api/client";
import type { SpanSetting } from "../../primitives/span";
import { axesOf, withValue, type Control, type Spans } from "./controls";

/** What stands in the band of one study. */
export interface Band {
  recipe: Recipe;
  spans: Spans;
}

interface History {
  past: Band[];
  future: Band[];
  changedAt: number;
}

interface Bands {
  bands: Record<string, Band>;
  history: Record<string, History>;
  begin: (study: string, band: Band) => void;
  change: (study: string, change: (band: Band) => Band) => void;
  undo: (study: string) => void;
  redo: (study: string) => void;
}

const EMPTY: History = { past: [], future: [], changedAt: 0 };
const MOST_UNDOS = 200;
/** Changes within one movement of the hand are undone together. */
const ONE_MOVEMENT = 600;
export const MOST_AXES = 2;

export const useBands = create<Bands>()(
  persist(
    (set) => ({
      bands: {},
      history: {},
      begin: (study, band) => set((s) => (s.bands[study] ? s : { bands: { ...s.bands, [study]: band } })),
      change: (study, change) =>
        set((s) => {
          const before = s.bands[study];
          if (!before) return s;
          const after = change(before);
          if (JSON.stringify(after) === JSON.stringify(before)) return s;
          const history = s.history[study] ?? EMPTY;
          const now = Date.now();
          const joined = now - history.changedAt < ONE_MOVEMENT && history.past.length > 0;
          const past = joined ? history.past : [...history.past.slice(-MOST_UNDOS), before];
          return {
            bands: { ...s.bands, [study]: after },
            history: { ...s.history, [study]: { past, future: [], changedAt: now } },
          };
        }),
      undo: (study) => set((s) => step(s, study, "past", "future")),
      redo: (study) => set((s) => step(s, study, "future", "past")),
    }),
    { name: "warmtide-bands", version: 1, migrate: () => ({ bands: {} }), partialize: (s) => ({ bands: s.bands }) },
  ),
);

function step(s: Bands, study: string, take: "past" | "future", put: "past" | "future"): Partial<Bands> {
  const history = s.history[study] ?? EMPTY;
  const found = history[take].at(-1);
  const current = s.bands[study];
  if (!found || !current) return s;
  const next = { ...history, [take]: history[take].slice(0, -1), [put]: [...history[put], current], changedAt: 0 };
  return { bands: { ...s.bands, [study]: found }, history: { ...s.history, [study]: next } };
}

export const setValue = (control: Control, value: number) => (band: Band): Band => ({
  ...band,
  recipe: withValue(band.recipe, control, value),
});

/** Stretch or unstretch; null when two others are stretched already. */
export function withSpan(band: Band, control: Control, span: SpanSetting | null): Band | null {
  if (span && !band.spans[control] && axesOf(band.spans).length >= MOST_AXES) return null;
  const others = Object.entries(band.spans).filter(([name]) => name !== control);
  return { ...band, spans: Object.fromEntries(span ? [...others, [control, span]] : others) as Spans };
}
