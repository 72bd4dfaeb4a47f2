import type { LookView, Recipe, SweepRequest } from "../../api/client";
import { valuesOf, type SpanSetting } from "../../primitives/span";

const HOLDS = ["lines", "shapes", "colours", "faces"] as const;
type Hold = (typeof HOLDS)[number];
const isHold = (control: string): control is Hold => (HOLDS as readonly string[]).includes(control);

export type Control = "strength" | "guidance" | "seed" | "steps" | Hold;

export interface ControlInfo {
  control: Control;
  label: string;
  min: number;
  max: number;
  step: number;
  digits: number;
  ends?: [string, string];
  stretched?: SpanSetting;
}

/** The band's controls in their order; their keys are 1 to 8. */
export const CONTROLS: ControlInfo[] = [
  { control: "strength", label: "Strength", min: 0, max: 1, step: 0.01, digits: 2, ends: ["source", "look"], stretched: { from: 0.3, to: 0.9, count: 5 } },
  { control: "guidance", label: "Guidance", min: 1, max: 20, step: 0.5, digits: 1, ends: ["plain", "loud"], stretched: { from: 3, to: 9, count: 3 } },
  { control: "seed", label: "Seed", min: 1, max: 60, step: 1, digits: 0 },
  { control: "steps", label: "Steps", min: 4, max: 60, step: 1, digits: 0, ends: ["quick", "fine"], stretched: { from: 10, to: 30, count: 3 } },
  { control: "lines", label: "Hold lines", min: 0, max: 1, step: 0.05, digits: 2, ends: ["free", "kept"], stretched: { from: 0.2, to: 0.8, count: 3 } },
  { control: "shapes", label: "Hold shapes", min: 0, max: 1, step: 0.05, digits: 2, ends: ["free", "kept"], stretched: { from: 0.2, to: 0.8, count: 3 } },
  { control: "colours", label: "Hold colours", min: 0, max: 1, step: 0.05, digits: 2, ends: ["free", "kept"], stretched: { from: 0, to: 1, count: 3 } },
  { control: "faces", label: "Hold faces", min: 0, max: 1, step: 0.05, digits: 2, ends: ["free", "kept"], stretched: { from: 0.2, to: 0.8, count: 3 } },
];

export const infoOf = (control: string) => CONTROLS.find((c) => c.control === control);

export type Spans = Partial<Record<Control, SpanSetting>>;

/** A control's value in a recipe. */
export function valueIn(recipe: Recipe, control: string): number | string {
  if (isHold(control)) return recipe.holds?.[control] ?? 0;
  return recipe[control as "strength"] ?? 0;
}

/** The recipe with one control changed. */
export function withValue(recipe: Recipe, control: Control, value: number): Recipe {
  if (isHold(control)) {
    return { ...recipe, holds: { ...recipe.holds!, [control]: value } };
  }
  return { ...recipe, [control]: value };
}

/** Which stretched control runs across and which down: strength across when it is one of them. */
export function axesOf(spans: Spans): Control[] {
  const stretched = CONTROLS.map((c) => c.control).filter((c) => spans[c]);
  return stretched.sort((a, b) => Number(b === "strength") - Number(a === "strength"));
}

/** What the server is asked: rows first, since the last span varies fastest. */
export function requestOf(sourceId: string, recipe: Recipe, spans: Spans): SweepRequest {
  return {
    source_id: sourceId,
    recipe: recipe as unknown as Record<string, unknown>,
    spans: axesOf(spans)
      .reverse()
      .map((control) => ({ control, values: valuesOf(spans[control]!, infoOf(control)!.digits) })),
  };
}

/** A value of an axis as a label. */
export function labelOf(control: string, value: number | string): string {
  const info = infoOf(control);
  if (info && typeof value === "number") return value.toFixed(info.digits);
  const text = String(value).replaceAll("-", " ");
  return control === "look" ? text.charAt(0).toUpperCase() + text.slice(1) : String(value);
}

const CATEGORIES = ["painted", "drawn", "graphic", "printed", "made"];

/** Looks of one category side by side. */
export function byCategory(looks: LookView[]): LookView[] {
  return [...looks].sort((a, b) => CATEGORIES.indexOf(a.category) - CATEGORIES.indexOf(b.category));
}

/** One take in every look, with everything else as it is. */
export function looksRequest(sourceId: string, recipe: Recipe, looks: LookView[]): SweepRequest {
  return {
    source_id: sourceId,
    recipe: recipe as unknown as Record<string, unknown>,
    spans: [{ control: "look", values: byCategory(looks).map((look) => look.name) }],
  };
}
