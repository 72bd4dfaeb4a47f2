interface Scene {
  title: string;
  way: "behind" | "around" | "over" | "none";
  begins: number;
  whole: number;
}

/** Holds at which a place that takes over is left little of the source but its broad light. */
export const LOOSE = { lines: 0.1, shapes: 0.1, colours: 0 } as const;

/** Whether held lines and shapes make two pictures in one of a place that has begun to take over. */
export const shinesThrough = ({ way, begins }: Pick<Scene, "way" | "begins">, strength: number, hold: number): boolean =>
  way === "over" && strength >= begins + 0.1 && hold > 0.4;

/** One or two sentences: what a scene does to takes of a strength, and what would show more of it. */
export function sceneNote({ title, way, begins, whole }: Scene, strength: number, hold: number): string {
  if (way === "none") return "";
  const name = title[0]!.toUpperCase() + title.slice(1);
  if (way === "behind") return `${name} stands behind the subject, whose shape stays.`;
  if (way === "around") return `${name} lies around the building, whose edges stay.`;
  const takes = `${name} takes over from strength ${begins.toFixed(2)} and is whole from ${whole.toFixed(2)}.`;
  if (strength < begins + 0.1) return `${takes} At ${strength.toFixed(2)} hardly any of it shows.`;
  if (shinesThrough({ way, begins }, strength, hold)) return `${takes} Held lines and shapes keep the source in it.`;
  return takes;
}
