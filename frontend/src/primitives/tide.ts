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
  /** Means over seeds. */
  composition: number;
  look: number | null;
  takes: string[];
}

export interface TideRow {
  name: string;
  points: TidePoint[];
}

const valueOf = (recipe: Record<string, unknown>, control: string) =>
  control in recipe ? recipe[control] : (recipe.holds as Record<string, unknown> | undefined)?.[control];

const mean = (values: number[]) => values.reduce((sum, v) => sum + v, 0) / values.length;

/** Rows of a sweep over strength, seeds joined, points by rising strength; empty for other sweeps. */
export function tideRows(takes: Taken[], spans: Axis[], name: (control: string, value: number | string) => string): TideRow[] {
  if (!spans.some((s) => s.control === "strength")) return [];
  const others = spans.map((s) => s.control).filter((c) => c !== "strength" && c !== "seed");
  const rows = new Map<string, Map<number, Taken[]>>();
  for (const take of takes) {
    if (take.state !== "done" || !take.readings) continue;
    const label = others.map((c) => name(c, valueOf(take.recipe, c) as number | string)).join(", ");
    const row = rows.get(label) ?? new Map<number, Taken[]>();
    const strength = Number(take.recipe.strength);
    row.set(strength, [...(row.get(strength) ?? []), take]);
    rows.set(label, row);
  }
  return [...rows].map(([label, points]) => ({
    name: label,
    points: [...points]
      .sort(([a], [b]) => a - b)
      .map(([strength, members]) => {
        const looks = members.map((t) => t.readings!.figures.look ?? null).filter((v): v is number => v !== null);
        return {
          strength,
          composition: mean(members.map((t) => t.readings!.figures.composition ?? 0)),
          look: looks.length ? mean(looks) : null,
          takes: members.map((t) => t.id),
        };
      }),
  }));
}
