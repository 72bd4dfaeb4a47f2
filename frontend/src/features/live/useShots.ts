import { useEffect, useState } from "react";
import type { Recipe } from "../../api/client";
import { fetchShot } from "./useLive";

/** Small drafts of some recipes, one after another, as object addresses. */
export function useShots(sourceId: string, recipes: Recipe[]): (string | undefined)[] {
  const [shots, setShots] = useState<(string | undefined)[]>([]);
  const key = JSON.stringify(recipes);
  useEffect(() => {
    let gone = false;
    const made: string[] = [];
    const draw = async () => {
      setShots([]);
      for (const [i, recipe] of (JSON.parse(key) as Recipe[]).entries()) {
        if (gone) return;
        try {
          const { shot } = await fetchShot({ key: "", sourceId, recipe }, "glimpse");
          made.push(shot.url);
          if (!gone) setShots((all) => Object.assign([...all], { [i]: shot.url }));
        } catch {
          // A value that can't be drawn here stays blank; running it says why.
        }
      }
    };
    void draw();
    return () => {
      gone = true;
      made.forEach((url) => URL.revokeObjectURL(url));
    };
  }, [sourceId, key]);
  return shots;
}
