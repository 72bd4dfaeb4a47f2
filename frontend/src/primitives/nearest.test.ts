import { describe, expect, it } from "vitest";
import { nearestOthers } from "./nearest";

const take = (id: string, recipe: Record<string, unknown>, composition: number | null = 90, more: object = {}) => ({
  id,
  source_id: "s",
  state: "done",
  recipe: { look: "oil", strength: 0.5, seed: 7, holds: { lines: 0.7 }, ...recipe },
  readings: { figures: { composition, look: 50 } },
  ...more,
});

describe("nearestOthers", () => {
  const here = take("here", {}, 90);
  it("finds the nearest below and above of each control, holds too, with what the readings have more of", () => {
    const all = [here, take("a", { strength: 0.2 }), take("b", { strength: 0.4 }, 96), take("c", { strength: 0.7 }, 71), take("d", { strength: 0.9 }), take("e", { holds: { lines: 0.2 } }, 80)];
    expect(nearestOthers(here, all)).toEqual([
      { id: "b", control: "strength", value: 0.4, here: 0.5, by: { composition: 6, look: 0 } },
      { id: "c", control: "strength", value: 0.7, here: 0.5, by: { composition: -19, look: 0 } },
      { id: "e", control: "lines", value: 0.2, here: 0.7, by: { composition: -10, look: 0 } },
    ]);
  });
  it("leaves out what differs in two controls, is of another source, unfinished, or the same take in another sweep", () => {
    const all = [take("a", { strength: 0.4, seed: 8 }), take("b", { strength: 0.4 }, 90, { source_id: "other" }), take("c", { strength: 0.4 }, 90, { state: "queued" }), here, take("q", { quality: "draft" })];
    expect(nearestOthers(here, all)).toEqual([]);
  });
  it("takes two above where nothing is below, words as they come, and no reading that one lacks", () => {
    const all = [take("a", { strength: 0.6 }), take("b", { strength: 0.8 }), take("c", { strength: 0.7 }), take("l", { look: "gouache" }, null)];
    const near = nearestOthers(here, all);
    expect(near.map((one) => one.id)).toEqual(["a", "c", "l"]);
    expect(near[2]!.by).toEqual({ look: 0 });
  });
});
