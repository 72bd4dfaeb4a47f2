/** The tide line's data: readings along strength, a line a row of the sheet. */

import type { Figures } from "./reading";

interface Taken {
  id: string;
  state: string;
  recipe: Record<string, unknown>;
  readings: { figures: Figures } | null;
}

interface Axis {
  control: string;
  values: (number | string)[];
}

export interface TidePoint {
  strength: number;
  composition: number;
  look: number | null;
  /** What else was read that goes by itself: subject and faces, where there are some. */
  subject: number | null;
  faces: number | null;
  take: string;
}

export interface TideRow {
  name: string;
  /** By rising strength. */
  points: TidePoint[];
}

const valueOf = (recipe: Record<string, unknown>, control: string) =>
  control in recipe ? recipe[control] : (recipe.holds as Record<string, unknown> | undefined)?.[control];

/** Rows of a sweep over strength, in the order of the sweep; none for other sweeps. */
export function tideRows(takes: Taken[], spans: Axis[], name: (control: string, value: number | string) => string): TideRow[] {
  if (!spans.some((s) => s.control === "strength")) return [];
  const others = spans.map((s) => s.control).filter((c) => c !== "strength");
  const rows = new Map<string, TidePoint[]>();
  for (const { id, state, recipe, readings } of takes) {
    if (state !== "done" || !readings) continue;
    const label = others.map((c) => name(c, valueOf(recipe, c) as number | string)).join(", ");
    const { composition, look, subject, faces } = readings.figures;
    rows.set(label, [...(rows.get(label) ?? []), { strength: Number(recipe.strength), composition: composition ?? 0, look: look ?? null, subject: subject ?? null, faces: faces ?? null, take: id }]);
  }
  return [...rows].map(([label, points]) => ({ name: label, points: points.sort((a, b) => a.strength - b.strength) }));
}

/** Where values stand along an axis, and what value a place on it is. */
export interface Along {
  place: (value: number) => number;
  value: (place: number) => number;
}

/** An axis whose `values` stand at the `middles` of columns: between two columns in proportion, beyond the ends at them. */
export function alongColumns(values: number[], middles: number[]): Along {
  const pairs = values.map((value, i) => ({ value, at: middles[i]! })).sort((a, b) => a.value - b.value);
  const between = (from: "value" | "at", to: "value" | "at") => (given: number) => {
    const ordered = [...pairs].sort((a, b) => a[from] - b[from]);
    const [first, last] = [ordered[0], ordered.at(-1)];
    if (!first || !last) return 0;
    if (given <= first[from]) return first[to];
    if (given >= last[from]) return last[to];
    const after = ordered.findIndex((pair) => pair[from] >= given);
    const [a, b] = [ordered[after - 1]!, ordered[after]!];
    return a[to] + ((given - a[from]) / (b[from] - a[from])) * (b[to] - a[to]);
  };
  return { place: between("value", "at"), value: between("at", "value") };
}

/** Widths of the pictures that stand along an axis at some places: none over another; null leaves one out. */
export function picturesAlong(places: number[], widest: number, narrowest: number, gap: number): { width: number; shown: boolean[] } {
  const sorted = [...places].sort((a, b) => a - b);
  const nearest = Math.min(widest + gap, ...sorted.slice(1).map((p, i) => p - sorted[i]!));
  const width = Math.max(Math.min(widest, Math.floor(nearest - gap)), narrowest);
  let free = -Infinity;
  const shown = new Set<number>();
  for (const place of sorted) {
    if (place - width / 2 < free) continue;
    shown.add(place);
    free = place + width / 2 + gap;
  }
  return { width, shown: places.map((p) => shown.has(p)) };
}
