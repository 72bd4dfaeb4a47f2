import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { Recipe } from "../api/client";
import type { SpanSetting } from "../primitives/span";
import { axesOf, LIST_CONTROLS, withValue, type Control, type ListControl, type Lists, type Spans, type Stretched } from "./controls";

/** What stands in the band of one study. */
export interface Band extends Stretched {
  recipe: Recipe;
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
const MOST_KEPT = 20;
/** Changes within one movement of the hand are undone together. */
const ONE_MOVEMENT = 600;
export const MOST_AXES = 3;
export const MOST_VERSIONS = 6;

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
    { name: "warmtide-bands", version: 2, migrate: () => ({ bands: {}, history: {} }), partialize: ({ bands, history }) => ({ bands, history: kept(history) }) },
  ),
);

/** What of the undoing is remembered on another day: storage is small. */
function kept(history: Record<string, History>): Record<string, History> {
  return Object.fromEntries(Object.entries(history).map(([study, { past, future }]) => [study, { past: past.slice(-MOST_KEPT), future: future.slice(-MOST_KEPT), changedAt: 0 }]));
}

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

/** Said when a fourth control is to be stretched. */
export const FULL = "Three controls are stretched already; make one of them a single value first.";

const isFull = (band: Band, axis: string): boolean => {
  const axes = axesOf(band);
  return axes.length >= MOST_AXES && !axes.includes(axis);
};

/** Other versions of the prompt; null when three controls are stretched already. */
export const withVersions = (band: Band, versions: string[]): Band | null => (versions.length && isFull(band, "prompt") ? null : { ...band, versions });

/** Stretch or unstretch; null when three others are stretched already. */
export function withSpan(band: Band, control: Control, span: SpanSetting | null): Band | null {
  if (span && isFull(band, control)) return null;
  const others = Object.entries(band.spans).filter(([name]) => name !== control);
  return { ...band, spans: Object.fromEntries(span ? [...others, [control, span]] : others) as Spans };
}

/** Tick values of a list; a single one is no axis. Null when three others are stretched already. */
export function withList(band: Band, control: ListControl, values: (string | number)[]): Band | null {
  if (values.length > 1 && isFull(band, control)) return null;
  const others = Object.entries(band.lists ?? {}).filter(([name]) => name !== control);
  const lists = Object.fromEntries(values.length > 1 ? [...others, [control, values]] : others) as Lists;
  const recipe = values.length && control !== "source" ? { ...band.recipe, [control]: values[0] } : band.recipe;
  return { ...band, lists, recipe };
}

/** The band that made a sweep: its recipe, and its axes as they were stretched. */
export function bandOf({ recipe, spans }: { recipe: Recipe; spans: { control: string; values: (number | string)[] }[] }): Band {
  const band: Band = { recipe, spans: {}, lists: {}, order: [...spans].reverse().map((s) => s.control) };
  for (const { control, values } of spans) {
    const numbers = values.map(Number);
    if (control === "prompt") {
      band.recipe = { ...band.recipe, prompt: String(values[0]) };
      band.versions = values.slice(1).map(String);
    } else if ((LIST_CONTROLS as readonly string[]).includes(control)) band.lists![control as ListControl] = values;
    else band.spans[control as Control] = { from: numbers[0]!, to: numbers.at(-1)!, count: numbers.length };
  }
  return band;
}

/** The axes turned by one: what ran across now runs down, and so on. */
export function turned(band: Band): Band {
  const axes = axesOf(band);
  return { ...band, order: [...axes.slice(1), ...axes.slice(0, 1)] };
}
