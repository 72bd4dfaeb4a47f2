/** What differs between recipes. */

type Value = string | number | boolean | null | undefined;
export type Recipe = Record<string, unknown>;

/** A recipe as one flat record: the holds beside the other controls. */
export function flat(recipe: Recipe): Record<string, Value> {
  const { holds, ...rest } = recipe;
  return { ...(rest as Record<string, Value>), ...((holds as Record<string, Value> | undefined) ?? {}) };
}

/** Controls in which some recipes are not all alike, in the order in which an artist reads a recipe. */
export function differing(recipes: Recipe[]): string[] {
  const all = recipes.map(flat);
  const names = [...new Set(all.flatMap(Object.keys))];
  const order = ["look", "second_look", "second_share", "strength", "guidance", "seed", "steps"];
  const place = (name: string) => (order.includes(name) ? order.indexOf(name) : order.length);
  return names.filter((name) => new Set(all.map((r) => r[name] ?? null)).size > 1).sort((a, b) => place(a) - place(b));
}
