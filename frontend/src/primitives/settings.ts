/** A take's settings as text, to be pasted into a band, a mail or a script. */

const FIELDS = ["look", "look_weight", "second_look", "second_share", "prompt", "avoid", "strength", "guidance", "seed", "steps", "sampler", "holds", "size", "quality"];

/** The recipe as JSON; the same fields that a saved take carries. */
export const writeSettings = (recipe: object): string => JSON.stringify(recipe, null, 1);

/** What a pasted text says of a recipe: its JSON, or that of a saved take with a `recipe` in it; null for other text. */
export function readSettings(text: string): Record<string, unknown> | null {
  if (!text.trim().startsWith("{")) return null;
  try {
    const found = JSON.parse(text) as Record<string, unknown>;
    const recipe = (typeof found.recipe === "object" && found.recipe ? found.recipe : found) as Record<string, unknown>;
    const known = Object.fromEntries(Object.entries(recipe).filter(([name]) => FIELDS.includes(name)));
    return "look" in known || "strength" in known ? known : null;
  } catch {
    return null;
  }
}
