/** A picture that goes into a mix; weights count by their ratio. */
export interface Part {
  id: string;
  kind: "source" | "take";
  weight: number;
}

const MOST = 3;

/** With a picture put in at the end, or taken out; the same parts when there are three already. */
export const toggled = (parts: Part[], part: Part): Part[] => {
  if (parts.some((p) => p.id === part.id)) return parts.filter((p) => p.id !== part.id);
  return parts.length < MOST ? [...parts, part] : parts;
};

export const weighed = (parts: Part[], id: string, weight: number): Part[] => parts.map((p) => (p.id === id ? { ...p, weight } : p));

/** How much of the whole weight a picture has, 0..1. */
export function shareOf(parts: Part[], id: string): number {
  const all = parts.reduce((sum, p) => sum + p.weight, 0);
  return all > 0 ? (parts.find((p) => p.id === id)?.weight ?? 0) / all : 0;
}

/** What is asked of the server: sources before takes, as it counts them; null until there is something to mix. */
export function mixRequest(parts: Part[]): { sources: string[]; takes: string[]; weights: number[] } | null {
  if (parts.filter((p) => p.weight > 0).length < 2) return null;
  const ordered = [...parts.filter((p) => p.kind === "source"), ...parts.filter((p) => p.kind === "take")];
  const ids = (kind: Part["kind"]) => ordered.filter((p) => p.kind === kind).map((p) => p.id);
  return { sources: ids("source"), takes: ids("take"), weights: ordered.map((p) => p.weight) };
}
