import { describe, expect, it } from "vitest";
import type { Recipe } from "../api/client";
import { axesOf, labelOf, looksRequest, requestOf, valueIn, withValue } from "./controls";

const recipe: Recipe = {
  engine: "built-in", look: "pencil", look_weight: 1, second_look: null, second_share: 0, prompt: "", avoid: "", strength: 0.6, guidance: 5, seed: 7, steps: 20,
  sampler: "dpm++2m", holds: { lines: 0.7, shapes: 0.7, colours: 0.3, faces: 0.85, subject: 0.4, depth: 0 }, size: 512, quality: "full",
};

describe("the band's request", () => {
  it("puts strength across, whatever was stretched first", () => {
    expect(axesOf({ spans: { guidance: { from: 3, to: 9, count: 3 }, strength: { from: 0, to: 1, count: 3 } } })).toEqual(["strength", "guidance"]);
  });
  it("sends rows first, since the last span varies fastest", () => {
    const spans = { seed: { from: 7, to: 9, count: 3 }, strength: { from: 0.2, to: 0.4, count: 2 } };
    expect(requestOf("s", recipe, { spans }).spans).toEqual([
      { control: "seed", values: [7, 8, 9] },
      { control: "strength", values: [0.2, 0.4] },
    ]);
  });
  it("sweeps ticked lists and versions of the prompt, by page where there are three axes", () => {
    const stretched = { spans: { strength: { from: 0.2, to: 0.4, count: 2 } }, lists: { look: ["oil", "neon"], sampler: ["only one"] }, versions: ["mist"] };
    expect(axesOf(stretched)).toEqual(["strength", "look", "prompt"]);
    expect(requestOf("s", recipe, stretched).spans.map((s) => [s.control, s.values])).toEqual([["prompt", ["", "mist"]], ["look", ["oil", "neon"]], ["strength", [0.2, 0.4]]]);
    expect(axesOf({ ...stretched, order: ["prompt", "strength"] })).toEqual(["prompt", "strength", "look"]);
  });
  it("reaches into the holds", () => {
    const changed = withValue(recipe, "lines", 0.2);
    expect(valueIn(changed, "lines")).toBe(0.2);
    expect(changed.holds?.shapes).toBe(0.7);
    expect(recipe.holds?.lines).toBe(0.7);
    expect(valueIn(withValue(recipe, "seed", 9), "seed")).toBe(9);
  });
});

describe("trying all looks", () => {
  const look = (name: string, category: string, kinds = ["photo"]) => ({ name, category, title: name, kinds, description: "", strengths: [0.4, 0.8] });
  it("asks for each look once, category by category, those made for the picture only", () => {
    const asked = looksRequest("s", recipe, [look("oil", "painted"), look("neon", "made"), look("pencil", "drawn"), look("gouache", "painted", ["render"])], "photo");
    expect(asked.spans).toEqual([{ control: "look", values: ["oil", "neon", "pencil"] }]);
    expect(asked.recipe).toMatchObject({ strength: 0.6, seed: 7 });
  });
  it("writes a look's name as a person would", () => {
    expect([labelOf("look", "ink-comic"), labelOf("sampler", "dpm++2m"), labelOf("strength", 0.5)]).toEqual(["Ink comic", "dpm++2m", "0.50"]);
  });
});
