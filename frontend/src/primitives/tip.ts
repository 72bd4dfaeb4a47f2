/** Where a row of strengths gives way, in a sentence. */

interface Told {
  outcome: "tip" | "even" | "none";
  strength: number | null;
  low: number | null;
  high: number | null;
  plateau: number;
  fall: number;
}

export function tipWords(tip: Told): string {
  if (tip.outcome === "tip") {
    return `Gives way at strength ${tip.strength!.toFixed(2)} (between ${tip.low!.toFixed(2)} and ${tip.high!.toFixed(2)}).`;
  }
  if (tip.outcome === "even") return `Gives way evenly: ${Math.round(tip.fall)} points over the range, no tip.`;
  return `No tip in this range: ${Math.round(tip.plateau - tip.fall)} to ${Math.round(tip.plateau)} kept.`;
}

/** The same in few words; the strengths on either side are on the step that sweeps between them. */
export const tipShort = (tip: Told): string => (tip.outcome === "tip" ? `Gives way at strength ${tip.strength!.toFixed(2)}.` : tipWords(tip));

/** What gives way by itself, and where: "The face goes at .62, the subject at .71."; nothing where all holds. */
export function partWords(parts: { goes: string; tip: Told }[]): string {
  const told = parts.flatMap(({ goes, tip }) => (tip.outcome === "tip" ? [{ goes, at: tip.strength! }] : [])).sort((a, b) => a.at - b.at);
  const words = told.map(({ goes, at }, i) => `${goes}${i ? "" : " goes"} at ${at.toFixed(2).replace(/^0/, "")}`).join(", ");
  return words && `${words[0]!.toUpperCase()}${words.slice(1)}.`;
}

/** A finer span between two strengths: steps of .01 or more, at most six values. */
export function finerSpan(low: number, high: number): { from: number; to: number; count: number } {
  const from = Math.round(low * 100) / 100;
  const to = Math.max(Math.round(high * 100) / 100, from + 0.01);
  return { from, to, count: Math.min(6, Math.max(2, Math.round((to - from) / 0.01) + 1)) };
}

/** How firmly lines and shapes are held once an artist asks for it: a look at full strength keeps the composition then. */
const FIRM = { lines: 0.85, shapes: 0.85 };

/** Whether lines and shapes could be held more firmly than they are. */
export const couldHold = (holds: Record<string, number>): boolean => (holds.lines ?? 0) < FIRM.lines || (holds.shapes ?? 0) < FIRM.shapes;

/** Holds with lines and shapes firm; what is firmer already stays. */
export const heldOn = <H extends Record<string, number>>(holds: H): H & typeof FIRM => ({
  ...holds,
  lines: Math.max(holds.lines ?? 0, FIRM.lines),
  shapes: Math.max(holds.shapes ?? 0, FIRM.shapes),
});

/** The highest strength of a row that still keeps the composition: the last before it gives way. */
export function lastThatKeeps(tip: Told, strengths: number[]): number | null {
  if (tip.outcome !== "tip" || tip.low === null) return null;
  const keeping = strengths.filter((s) => s <= tip.low! + 1e-6);
  return keeping.length ? Math.max(...keeping) : null;
}
