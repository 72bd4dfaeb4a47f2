/** Where a key leads in a tree that is laid out from left to right. */

export interface Placed {
  id: string;
  x: number;
  y: number;
  parents: readonly string[];
}

export type Way = "back" | "on" | "up" | "down" | "first" | "last";

const nearest = (from: Placed, among: Placed[]): Placed | undefined =>
  among.reduce<Placed | undefined>((best, other) => (!best || Math.abs(other.y - from.y) < Math.abs(best.y - from.y) ? other : best), undefined);

/** The node that a step leads to; the one it began at where there is none. "back": to what it came from; "on": to what came of it; "up" and "down": in its column. */
export function walked(nodes: readonly Placed[], at: string | null, way: Way): string | null {
  const sorted = [...nodes].sort((a, b) => a.x - b.x || a.y - b.y);
  const here = nodes.find((node) => node.id === at);
  if (!here || way === "first") return sorted[0]?.id ?? null;
  if (way === "last") return sorted.at(-1)!.id;
  if (way === "back") return nearest(here, nodes.filter((node) => here.parents.includes(node.id)))?.id ?? here.id;
  if (way === "on") return nearest(here, nodes.filter((node) => node.parents.includes(here.id)))?.id ?? here.id;
  const sign = way === "up" ? -1 : 1;
  return nearest(here, nodes.filter((node) => Math.abs(node.x - here.x) < 1 && (node.y - here.y) * sign > 0))?.id ?? here.id;
}

/** How far a node is from the beginning: 1 for what came of nothing, along its first parent. */
export function levels(nodes: readonly Placed[]): Map<string, number> {
  const by = new Map(nodes.map((node) => [node.id, node]));
  const found = new Map<string, number>();
  const level = (id: string, seen: number): number => {
    const known = found.get(id);
    if (known !== undefined) return known;
    const parent = by.get(id)?.parents.find((name) => by.has(name));
    const value = parent === undefined || seen > by.size ? 1 : level(parent, seen + 1) + 1;
    found.set(id, value);
    return value;
  };
  for (const node of nodes) level(node.id, 0);
  return found;
}
