import { expect, it } from "vitest";
import { differing, flat } from "./differences";

const recipe = { look: "oil", strength: 0.5, seed: 7, prompt: "", second_look: null, holds: { lines: 0.6, depth: 0 } };

it("finds what is not alike, holds too, in reading order", () => {
  expect(differing([recipe, recipe])).toEqual([]);
  expect(differing([recipe, { ...recipe, prompt: "mist", seed: 9, holds: { lines: 0.2, depth: 0 } }])).toEqual(["seed", "prompt", "lines"]);
  expect(differing([recipe, { ...recipe, strength: 0.6 }, { ...recipe, look: "neon" }])).toEqual(["look", "strength"]);
  expect(differing([])).toEqual([]);
});

it("takes what is missing and what is nothing for the same", () => {
  expect(differing([recipe, { ...recipe, second_look: undefined }])).toEqual([]);
  expect(flat(recipe)).toMatchObject({ lines: 0.6, look: "oil" });
});
