import type { LookView, Recipe, SweepRequest } from "../api/client";
import program from "../api/program.gen.json";
import { lookSections } from "../primitives/looks";
import { valuesOf, type SpanSetting } from "../primitives/span";

const HOLDS = ["lines", "shapes", "colours", "faces", "subject", "depth"] as const;
type Hold = (typeof HOLDS)[number];
export const isHold = (control: string): control is Hold => (HOLDS as readonly string[]).includes(control);

export type Control = "strength" | "guidance" | "seed" | "steps" | "look_weight" | "second_share" | Hold;

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

/** The band's controls in their order; their keys are 1 to 9 and 0. */
export const CONTROLS = program.controls as ControlInfo[];

/** Controls that stand in the band and have a key of their own. */
export const BAND_CONTROLS = CONTROLS.filter((info) => info.control !== "second_share");

/** Controls that stand in the band's row; the others lie in its drawer. */
const IN_ROW = ["strength", "guidance", "seed"];
export const inDrawer = (control: string): boolean => !IN_ROW.includes(control);

export const infoOf = (control: string) => CONTROLS.find((c) => c.control === control);

export type Spans = Partial<Record<Control, SpanSetting>>;

/** A control's value in a recipe. */
export function valueIn(recipe: Recipe, control: string): number | string {
  if (isHold(control)) return recipe.holds?.[control] ?? 0;
  return recipe[control as "strength"] ?? 0;
}

/** Whether a recipe has these values of controls. */
export const hasValues = (recipe: Recipe, values: Record<string, number | string>): boolean =>
  Object.entries(values).every(([control, value]) => valueIn(recipe, control) === value);

/** The recipe with one control changed. */
export function withValue(recipe: Recipe, control: Control, value: number): Recipe {
  if (isHold(control)) {
    return { ...recipe, holds: { ...recipe.holds!, [control]: value } };
  }
  return { ...recipe, [control]: value };
}

/** The recipe with one swept value put in, whatever kind of control it is. */
export function changedBy(recipe: Recipe, control: string, value: number | string): Recipe {
  return infoOf(control) && typeof value === "number" ? withValue(recipe, control as Control, value) : { ...recipe, [control]: value };
}

/** Controls that are not amounts: swept by ticking some of their values. */
export const LIST_CONTROLS = ["look", "engine", "sampler", "quality", "size", "source"] as const;
export type ListControl = (typeof LIST_CONTROLS)[number];
export type Lists = Partial<Record<ListControl, (string | number)[]>>;

/** What is stretched in a band: spans of numbers, ticked lists, other versions of the prompt, and the axes' order. */
export interface Stretched {
  spans: Spans;
  lists?: Lists;
  versions?: string[];
  order?: string[];
}

/** The axes of a sweep: across, down, by page. Strength runs across unless the artist has turned the axes. */
export function axesOf({ spans, lists = {}, versions = [], order = [] }: Stretched): string[] {
  const numbers = CONTROLS.map((c) => c.control).filter((c) => spans[c]);
  const usual = [...numbers.sort((a, b) => Number(b === "strength") - Number(a === "strength")), ...LIST_CONTROLS.filter((c) => (lists[c]?.length ?? 0) > 1), ...(versions.length ? ["prompt"] : [])];
  const place = (axis: string) => (order.includes(axis) ? order.indexOf(axis) : order.length + usual.indexOf(axis));
  return usual.sort((a, b) => place(a) - place(b));
}

/** The values of one axis. */
export function axisValues(axis: string, recipe: Recipe, { spans, lists, versions }: Stretched): (string | number)[] {
  if (axis === "prompt") return [recipe.prompt ?? "", ...(versions ?? [])];
  return lists?.[axis as ListControl] ?? valuesOf(spans[axis as Control]!, infoOf(axis)!.digits);
}

/** What the server is asked: pages, then rows, then columns, since the last span varies fastest. */
export function requestOf(sourceId: string, recipe: Recipe, stretched: Stretched): SweepRequest {
  const spans = axesOf(stretched)
    .reverse()
    .map((control) => ({ control, values: axisValues(control, recipe, stretched) }));
  return { source_id: sourceId, recipe: recipe as unknown as Record<string, unknown>, spans };
}

/** How finely a take is made. */
export const QUALITIES = [
  { value: "full", title: "Full", detail: "the take itself" },
  { value: "draft", title: "Draft", detail: "256 px, a sixth of the time" },
];

/** The name of an axis. */
export const axisName = (control: string): string => infoOf(control)?.label ?? control.charAt(0).toUpperCase() + control.slice(1);

/** A value of an axis as a label. */
export function labelOf(control: string, value: number | string): string {
  const info = infoOf(control);
  if (info && typeof value === "number") return value.toFixed(info.digits);
  if (control === "quality") return QUALITIES.find((q) => q.value === value)?.title ?? String(value);
  if (control === "size") return `${value} px`;
  const text = String(value).replaceAll("-", " ");
  return control === "look" ? text.charAt(0).toUpperCase() + text.slice(1) : String(value);
}

/** Looks that are made for a kind of picture; all of them where none is. */
export function looksMadeFor(looks: LookView[], kind: string): LookView[] {
  const made = looks.filter((look) => look.kinds.includes(kind));
  return made.length ? made : looks;
}

/** One take in every look that is made for the kind of picture, with everything else as it is. */
export function looksRequest(sourceId: string, recipe: Recipe, looks: LookView[], kind: string): SweepRequest {
  return {
    source_id: sourceId,
    recipe: recipe as unknown as Record<string, unknown>,
    spans: [{ control: "look", values: lookSections(looksMadeFor(looks, kind), kind, []).flatMap((section) => section.looks.map((look) => look.name)) }],
  };
}
