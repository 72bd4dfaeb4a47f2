/** Looks in the order in which a panel shows them. */

export interface LookLike {
  name: string;
  title: string;
  category: string;
  description: string;
  kinds: string[];
}

export interface Section<L> {
  heading: string;
  looks: L[];
}

const OWN: Record<string, string> = { learned: "your own" };

/** Whether every word typed is found in what is said of a look. */
export function matches(look: LookLike, typed: string): boolean {
  const all = `${look.name} ${look.title} ${look.category} ${look.description}`.toLowerCase();
  return typed.toLowerCase().split(/\s+/).every((word) => all.includes(word));
}

/** Favourites, then by category those made for this kind, last the others; each look once. Categories stand in the order in
 * which the looks name them first. */
export function lookSections<L extends LookLike>(looks: L[], kind: string, favourites: string[], typed = ""): Section<L>[] {
  const found = looks.filter((look) => matches(look, typed));
  const starred = favourites.flatMap((name) => found.filter((look) => look.name === name));
  const rest = found.filter((look) => !favourites.includes(look.name));
  const fits = rest.filter((look) => look.kinds.includes(kind));
  const sections = [
    { heading: "favourites", looks: starred },
    ...[...new Set(looks.map((look) => look.category))].map((category) => ({ heading: OWN[category] ?? category, looks: fits.filter((look) => look.category === category) })),
    { heading: `not made for ${kind === "flat art" ? kind : `a ${kind}`}`, looks: rest.filter((look) => !look.kinds.includes(kind)) },
  ];
  return sections.filter((section) => section.looks.length > 0);
}

/** The look some steps further in the order shown. */
export function lookBeside<L extends LookLike>(sections: Section<L>[], name: string, by: number): string | undefined {
  const names = sections.flatMap((section) => section.looks.map((look) => look.name));
  const at = names.indexOf(name);
  return names[Math.min(Math.max(at < 0 ? 0 : at + by, 0), names.length - 1)];
}

/** Favourites, those made for this kind, the others: what a panel shows while looks are being chosen by eye. Each look once;
 * within a group categories stay together. */
export function lookGroups<L extends LookLike>(looks: L[], kind: string, favourites: string[], typed = ""): Section<L>[] {
  const sections = lookSections(looks, kind, favourites, typed);
  const starred = sections.filter((s) => s.heading === "favourites");
  const others = sections.filter((s) => s.heading.startsWith("not made for"));
  const made = sections.filter((s) => !starred.includes(s) && !others.includes(s)).flatMap((s) => s.looks);
  return [...starred, { heading: kind === "flat art" ? `made for ${kind}` : `made for a ${kind}`, looks: made }, ...others].filter((s) => s.looks.length > 0);
}

/** Three strengths that show a look's usual band: where it begins, its middle, where it ends. */
export const bandOfLook = ([from, to]: readonly [number, number]): number[] => [from, Number(((from + to) / 2).toFixed(2)), to];
