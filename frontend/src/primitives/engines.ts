/** What other engines than the built-in one offer, and what of a recipe they hear. */

import type { Choices, Recipe } from "../api/client";

export type EngineView = Choices["engines"][number];
type Told = Pick<Choices, "engines" | "looks" | "samplers" | "defaults" | "kinds">;

export const BUILT_IN = "built-in";
/** Where a look of another engine is at its usual, since nobody here knows better. */
const USUAL = [0.3, 0.8];
const NO_HOLD = ["guidance", "seed", "steps", "strength", "look_weight", "second_share"];

/** An engine by name; the built-in one where none is named. */
export const engineNamed = (choices: Told, name: string | undefined): EngineView | undefined => choices.engines.find((engine) => engine.name === (name ?? BUILT_IN));

/** Whether a recipe is made by the built-in engine. */
export const isOurs = (recipe: Pick<Recipe, "engine">): boolean => (recipe.engine ?? BUILT_IN) === BUILT_IN;

/** What an engine's takes are known by. */
export const tagOf = (engine: EngineView): string => (engine.built_in ? engine.version : `${engine.name} ${engine.version}`);

/** The choices as one engine has them: its looks, its samplers. */
export function offeredBy<T extends Told>(choices: T, name: string | undefined): T {
  const engine = engineNamed(choices, name);
  if (!engine || engine.built_in) return choices;
  const looks = engine.looks.map((look) => ({ ...look, category: engine.title, kinds: choices.kinds, strengths: USUAL }));
  return { ...choices, looks, samplers: engine.samplers };
}

/** Whether an engine hears a control, by the recipe's or the hold's name. */
export function hears(engine: EngineView | undefined, control: string): boolean {
  if (!engine || engine.built_in) return true;
  return NO_HOLD.includes(control) ? engine.controls.some((one) => one.name === control) : engine.holds.includes(control);
}

/** The title of a recipe's look, and before it the engine that made it, where that is not the built-in one. */
export function lookTitle(choices: Told, recipe: Pick<Recipe, "engine" | "look">): string {
  const title = offeredBy(choices, recipe.engine).looks.find((look) => look.name === recipe.look)?.title ?? recipe.look ?? "";
  const engine = recipe.engine ?? BUILT_IN;
  return engine === BUILT_IN ? title : `${engineNamed(choices, engine)?.title ?? engine}: ${title}`;
}

/** What of a recipe changes when another engine is chosen: a look and a sampler that it has. `choices` are those of all engines. */
export function withEngine(choices: Told, recipe: Recipe, name: string): Partial<Recipe> {
  const { looks, samplers } = offeredBy(choices, name);
  const kept = (have: { name: string }[], value: string | undefined, usual: string) => (have.some((one) => one.name === value) ? value : usual);
  const look = name === BUILT_IN ? choices.defaults.look : looks[0]!.name;
  return {
    engine: name,
    look: kept(looks, recipe.look, look),
    second_look: looks.some((one) => one.name === recipe.second_look) ? recipe.second_look : null,
    sampler: kept(samplers, recipe.sampler, name === BUILT_IN ? choices.defaults.sampler : (samplers[0]?.name ?? choices.defaults.sampler)),
  };
}
