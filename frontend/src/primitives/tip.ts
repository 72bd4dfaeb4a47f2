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

/** A finer span between two strengths: steps of .01 or more, at most six values. */
export function finerSpan(low: number, high: number): { from: number; to: number; count: number } {
  const from = Math.round(low * 100) / 100;
  const to = Math.max(Math.round(high * 100) / 100, from + 0.01);
  return { from, to, count: Math.min(6, Math.max(2, Math.round((to - from) / 0.01) + 1)) };
}
