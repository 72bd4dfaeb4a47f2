interface Scene {
  title: string;
  behind: boolean;
  begins: number;
  whole: number;
}

/** Holds at which a place that takes over is left little of the source but its broad light. */
export const LOOSE = { lines: 0.1, shapes: 0.1, colours: 0 } as const;

/** Whether held lines and shapes make two pictures in one of a place that has begun to take over. */
export const shinesThrough = ({ behind, begins }: Pick<Scene, "behind" | "begins">, strength: number, hold: number): boolean =>
  !behind && strength >= begins + 0.1 && hold > 0.4;

/** One or two sentences: what a scene does to takes of a strength, and what would show more of it. */
export function sceneNote({ title, behind, begins, whole }: Scene, strength: number, hold: number): string {
  const name = title[0]!.toUpperCase() + title.slice(1);
  if (behind) return `${name} stands behind the subject, whose shape stays.`;
  const takes = `${name} takes over from strength ${begins.toFixed(2)} and is whole from ${whole.toFixed(2)}.`;
  if (strength < begins + 0.1) return `${takes} At ${strength.toFixed(2)} hardly any of it shows.`;
  if (shinesThrough({ behind, begins }, strength, hold)) return `${takes} Held lines and shapes keep the source in it.`;
  return takes;
}
