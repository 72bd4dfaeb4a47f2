/** What of a recipe is not as a study begins: what a band must show though its control lies in a drawer. */

interface RecipeLike {
  [name: string]: unknown;
  holds?: Record<string, number>;
}

const EMPTY = (value: unknown) => value === undefined || value === null || value === "";

/** Whether two values of a control are the same; what is not there counts as empty. */
const same = (a: unknown, b: unknown) => (EMPTY(a) && EMPTY(b)) || a === b;

/** Names of the controls among `names`, holds included, whose value differs from the beginning. */
export function changedFrom(beginning: RecipeLike, now: RecipeLike, names: readonly string[]): string[] {
  return names.filter((name) => {
    const [was, is] = [beginning, now].map((recipe) => (recipe.holds && name in recipe.holds ? recipe.holds[name] : recipe[name]));
    return !same(was, is);
  });
}
