/** A strength as typed: a number, or how much is kept ("keep 70 %" is .30), for those who count the other way. */
export function readStrength(text: string): number {
  const kept = /^keep\s*(\d+(?:[.,]\d+)?)\s*%?$/i.exec(text.trim());
  if (kept) return Math.round((1 - Number(kept[1]!.replace(",", ".")) / 100) * 100) / 100;
  return Number(text.replace(",", "."));
}
