import type { LookView, Recipe, SourceView, SweepRequest, TakeView } from "../api/client";
import { clamp } from "../primitives/span";
import { infoOf, looksMadeFor, looksRequest } from "./controls";

export interface FromTake {
  title: string;
  /** What is swept, in the values themselves. */
  detail: string;
  request: SweepRequest;
}

const two = (value: number) => Number(clamp(value, 0, 1).toFixed(2));
/** What a hand reaches of a control. */
const reach = (control: string) => infoOf(control)!;
const different = (values: number[]) => [...new Set(values)];

/** What an artist tries from a take: everything else stays as it is, so that one thing is compared. `engine`: the version that renders now. */
export function fromTake(take: TakeView, sourceId: string, sources: SourceView[], looks: LookView[], kind: string, engine?: string): FromTake[] {
  const { recipe } = take;
  const { strength = 0.5, guidance = 5, steps = 20, seed = 1 } = recipe;
  const sweep = (control: string, values: (number | string)[], own: Partial<Recipe> = {}): SweepRequest => ({
    source_id: sourceId,
    recipe: { ...recipe, ...own } as unknown as Record<string, unknown>,
    spans: [{ control, values }],
  });
  const one = (source: string, own: Partial<Recipe> = {}): SweepRequest => ({ source_id: source, recipe: { ...recipe, ...own } as unknown as Record<string, unknown>, spans: [] });
  const near = different([-0.06, -0.04, -0.02, 0, 0.02, 0.04, 0.06].map((by) => two(strength + by)));
  const seeds = Array.from({ length: 8 }, (_, k) => seed + 1 + k);
  const pulls = different([guidance - 1, guidance, guidance + 1].map((v) => clamp(v, reach("guidance").min, reach("guidance").max)));
  const counts = different([Math.round(steps / 2), steps, Math.round(steps * 1.5)].map((v) => clamp(v, reach("steps").min, reach("steps").max)));
  const held = [0, 0.25, 0.5, 0.75, 1];
  const items: FromTake[] = [
    { title: "Finer around its strength", detail: `${near[0]!.toFixed(2)} to ${near.at(-1)!.toFixed(2)} by 0.02, seed ${seed}`, request: sweep("strength", near) },
    { title: "The next 8 seeds", detail: `${seeds[0]} to ${seeds[7]}`, request: sweep("seed", seeds) },
    { title: "Less and more guidance", detail: pulls.join(", "), request: sweep("guidance", pulls) },
    { title: "Fewer and more steps", detail: counts.join(", "), request: sweep("steps", counts) },
    { title: "Hold lines from 0 to 1", detail: "in five takes", request: sweep("lines", held) },
    { title: "Hold shapes from 0 to 1", detail: "in five takes", request: sweep("shapes", held) },
    { title: "In the other looks", detail: `one take in each of ${looksMadeFor(looks, kind).length}`, request: looksRequest(sourceId, recipe, looks, kind) },
  ];
  if (recipe.quality === "draft") items.unshift({ title: "Finish it in full", detail: "the take that this draft foretells", request: one(sourceId, { quality: "full" }) });
  // Its picture stays; the same recipe gives another one by now.
  if (engine && take.engine !== engine) items.unshift({ title: "Anew, beside it", detail: `it was made by engine ${take.engine}, this is ${engine}`, request: one(sourceId) });
  for (const other of sources.filter((s) => s.id !== sourceId)) items.push({ title: `On ${other.name}`, detail: "the same settings on another source", request: one(other.id) });
  return items;
}
