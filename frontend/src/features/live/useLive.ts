import { useEffect, useRef, useState } from "react";
import type { Recipe } from "../../api/client";
import type { Figures } from "../../primitives/reading";

export interface LiveFigures {
  figures: Figures;
  warnings: string[];
  seconds: number;
}

export interface LiveShot {
  url: string;
  figures: LiveFigures;
}

interface Wanted {
  key: string;
  sourceId: string;
  recipe: Recipe;
}

/** Above this many milliseconds a moving hand gets the smaller picture. */
const QUICK = 130;

/**
 * A draft that follows a recipe. One request is under way at a time and the newest recipe goes next, so nothing
 * ever queues; when the hand rests, the small picture gives way to the larger one.
 */
export function useLive(sourceId: string, recipe: Recipe | null): { shot: LiveShot | null; fault: string | null; fresh: boolean } {
  const [shot, setShot] = useState<LiveShot | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [shown, setShown] = useState("");
  const wanted = useRef<Wanted | null>(null);
  const busy = useRef(false);
  const spent = useRef(0);
  const gone = useRef(false);
  const key = recipe ? `${sourceId} ${JSON.stringify(recipe)}` : "";

  useEffect(() => {
    gone.current = false;
    return () => {
      gone.current = true;
    };
  }, []);
  useEffect(() => () => void (shot && URL.revokeObjectURL(shot.url)), [shot]);
  useEffect(() => {
    wanted.current = recipe ? { key, sourceId, recipe } : null;
    const pump = async () => {
      if (busy.current) return;
      busy.current = true;
      let done = "";
      while (!gone.current && wanted.current && wanted.current.key !== done) {
        const now = wanted.current;
        const small = spent.current > QUICK;
        try {
          const first = await fetchShot(now, small ? "glimpse" : "draft");
          if (!small) spent.current = first.spent;
          if (gone.current) return;
          setFault(null);
          setShot(first.shot);
          if (small && wanted.current?.key === now.key) {
            const settled = await fetchShot(now, "draft");
            spent.current = settled.spent;
            if (gone.current) return;
            setShot(settled.shot);
          }
          setShown(now.key);
        } catch (error) {
          setFault(error instanceof Error ? error.message : String(error));
        }
        done = now.key;
      }
      busy.current = false;
    };
    void pump();
    // The key says all that matters of the recipe.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return { shot, fault, fresh: shown === key };
}

/** One draft of a recipe. */
export async function fetchShot({ sourceId, recipe }: Wanted, quality: string): Promise<{ shot: LiveShot; spent: number }> {
  const began = performance.now();
  const answer = await fetch("/api/live", {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify({ source_id: sourceId, recipe: { ...recipe, quality } }),
  });
  if (!answer.ok) {
    const said = (await answer.json().catch(() => null)) as { message?: string } | null;
    throw new Error(said?.message ?? "The draft could not be drawn.");
  }
  const figures = JSON.parse(answer.headers.get("Warm-Tide-Readings") ?? "{}") as LiveFigures;
  const url = URL.createObjectURL(await answer.blob());
  return { shot: { url, figures }, spent: performance.now() - began };
}
