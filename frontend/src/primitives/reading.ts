/** What a take's readings say in plain sentences. */

interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** Figures of a take, 0 to 100, by the names of readings; null where one can't be told. */
export type Figures = Record<string, number | null>;

interface Read {
  figures: Figures;
  warnings?: string[];
  parts: Record<string, number>;
  worst?: (Box & { kept: number }) | null;
}

/** Where a box lies in the picture, as a person says it. */
export function place({ left, top, right, bottom }: Box): string {
  const x = (left + right) / 2;
  const y = (top + bottom) / 2;
  const across = x < 1 / 3 ? "left" : x > 2 / 3 ? "right" : "";
  const down = y < 1 / 3 ? "upper" : y > 2 / 3 ? "lower" : "";
  if (!across && !down) return "in the middle";
  if (!across) return down === "upper" ? "at the top" : "at the bottom";
  return down ? `at the ${down} ${across}` : `at the ${across}`;
}

const WARNINGS: Record<string, string> = {
  noise: "It is noisier than source and look account for.",
  blank: "It is nearly blank.",
  saturation: "Its colours are far louder than the source's and the look's.",
  halo: "Its edges have rims that a lower guidance doesn't give.",
  face: "A face has lost its features.",
  thin: "Some of its lines are too thin for a thing at this size; a larger size keeps them.",
  outline: "Where the product ends could not be seen all around: part of it has its ground's own grey.",
  thing: "Nothing stands out of this picture as one thing on its own, so it is only lit anew; a building is for the looks of buildings.",
  profile: "A face is turned away: it is made softer, and no eyes are drawn.",
  nobody: "Nobody is seen in this picture: it is only made softer. Mark a face by hand where one is (H).",
  planes: "How the building's faces lie could not be told: nothing is drawn on it or around it.",
  open: "The sketch has no closed area, so nothing is filled.",
  toneless: "The source has no tones that could be restored.",
  guessed: "Its colours are guesses, except where words name them.",
};

/** A warning as a sentence. */
export const warningWords = (name: string): string => WARNINGS[name] ?? name;

/** The readings that some of these takes have a figure for: without faces nothing is told of faces. */
export const toldOf = <K extends { name: string }>(kinds: K[], takes: { readings?: { figures: Figures } | null }[]): K[] =>
  kinds.filter(({ name }) => takes.some((take) => typeof take.readings?.figures[name] === "number"));

/** Figures by the names of their readings, as far as they can be told: "composition 81, colour 70". */
export const spoken = (figures: Figures, kinds: { name: string }[]): string =>
  kinds.flatMap(({ name }) => (typeof figures[name] === "number" ? [`${name} ${Math.round(figures[name])}`] : [])).join(", ");

/** At most three sentences, the gravest first; none where nothing is to be said. */
export function sentences({ figures, parts, worst, warnings }: Read): string[] {
  const said = (warnings ?? []).map(warningWords);
  const gone = parts.gone ?? 0;
  const moved = parts.moved ?? 0;
  if (gone >= 40) said.push("Most of the composition is gone.");
  else if (gone >= 8) said.push(`${Math.round(gone)} points of the composition are gone.`);
  if (moved >= 3) said.push(`What moved has moved by ${(parts.shift ?? 0).toFixed(1)} % of the long side.`);
  if (worst && worst.kept < 80 && (figures.composition ?? 0) < 99.5) said.push(`Most was lost ${place(worst)}: ${Math.round(worst.kept)} kept there.`);
  if (said.length < 3 && (parts.added ?? 0) >= 45) said.push("It shows much that the source doesn't.");
  return said.slice(0, 3);
}
