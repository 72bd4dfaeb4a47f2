import { differing, flat, type Recipe } from "./differences";

interface TakeLike {
  id: string;
  source_id: string | null;
  state: string;
  recipe: Recipe;
  readings: { figures: Record<string, number | null> } | null;
}

/** Another take that one control makes different. */
export interface Near {
  id: string;
  control: string;
  /** Its value of the control, and that of the take it is compared with. */
  value: string | number;
  here: string | number;
  /** What its readings have more of, by name; readings that either lacks are left out. */
  by: Record<string, number>;
}

/** What a control may be at either side of a take's own value. */
const SIDES = 2;
/** Kinds of quality are steps on the way to one take, not what an artist tunes. */
const NOT_TUNED = new Set(["quality"]);

const word = (value: unknown): string | number => (typeof value === "number" || typeof value === "string" ? value : String(value ?? ""));

/** Finished takes of the same source that differ in exactly one control: of each control the two whose values are nearest. */
export function nearestOthers(take: TakeLike, all: readonly TakeLike[]): Near[] {
  const found = new Map<string, Near[]>();
  const seen = new Set([take.id]);
  for (const other of all) {
    if (seen.has(other.id) || other.state !== "done" || other.source_id !== take.source_id) continue;
    seen.add(other.id);
    const names = differing([take.recipe, other.recipe]);
    const [control] = names;
    if (names.length !== 1 || !control || NOT_TUNED.has(control)) continue;
    const near = { id: other.id, control, value: word(flat(other.recipe)[control]), here: word(flat(take.recipe)[control]), by: difference(take, other) };
    found.set(control, [...(found.get(control) ?? []), near]);
  }
  return [...found.values()].flatMap(closest);
}

function difference(take: TakeLike, other: TakeLike): Record<string, number> {
  const here = take.readings?.figures ?? {};
  const pairs = Object.entries(other.readings?.figures ?? {}).flatMap(([name, value]) => {
    const own = here[name];
    return typeof value === "number" && typeof own === "number" ? [[name, value - own] as const] : [];
  });
  return Object.fromEntries(pairs);
}

/** Numbers: the next one below and the next one above; else the first two. */
function closest(near: Near[]): Near[] {
  const away = ({ value, here }: Near) => Number(value) - Number(here);
  if (!near.every(({ value, here }) => typeof value === "number" && typeof here === "number")) return near.slice(0, SIDES);
  const sorted = [...near].sort((a, b) => away(a) - away(b));
  const below = sorted.filter((one) => away(one) < 0).slice(-1);
  return [...below, ...sorted.filter((one) => away(one) > 0).slice(0, SIDES - below.length)];
}
