interface Scene {
  title: string;
  behind: boolean;
  begins: number;
  whole: number;
}

/** One or two sentences: what a scene does to takes of a strength, and what would show more of it. */
export function sceneNote({ title, behind, begins, whole }: Scene, strength: number, hold: number): string {
  const name = title[0]!.toUpperCase() + title.slice(1);
  if (behind) return `${name} stands behind the subject, whose shape stays.`;
  const takes = `${name} takes over from strength ${begins.toFixed(2)} and is whole from ${whole.toFixed(2)}.`;
  if (strength < begins + 0.1) return `${takes} At ${strength.toFixed(2)} hardly any of it shows.`;
  if (hold > 0.4) return `${takes} Held lines and shapes keep the source in it; loosen them for more of the place.`;
  return takes;
}
