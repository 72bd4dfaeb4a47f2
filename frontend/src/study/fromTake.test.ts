import { describe, expect, it } from "vitest";
import type { LookView, Recipe, SourceView, TakeView } from "../api/client";
import { fromTake } from "./fromTake";

const recipe = { look: "oil", strength: 0.98, guidance: 1, seed: 7, steps: 6, quality: "full", size: 512, holds: { lines: 0.7, shapes: 0.7, colours: 0.3, faces: 0.8, depth: 0 } } as Recipe;
const take = { id: "t", recipe } as TakeView;
const look = (name: string): LookView => ({ name, title: name, category: "painted", kinds: ["photo"], description: "", strengths: [0.3, 0.7] });
const sources = [{ id: "a", name: "quay.jpg" }, { id: "b", name: "slip.png" }] as SourceView[];
const items = fromTake(take, "a", sources, [look("oil"), look("neon")], "photo");
const spanOf = (title: string) => items.find((item) => item.title.startsWith(title))!.request.spans![0]!;

describe("what is tried around a take", () => {
  it("stays within what controls can be, each value once", () => {
    expect(spanOf("Finer").values).toEqual([0.92, 0.94, 0.96, 0.98, 1]);
    expect(spanOf("Less and more").values).toEqual([1, 2]);
    expect(spanOf("Fewer").values).toEqual([4, 6, 9]);
  });
  it("changes one thing and leaves the rest", () => {
    for (const { request } of items.filter((item) => !item.title.startsWith("On "))) {
      expect(request.spans!.length).toBe(1);
      expect({ ...request.recipe }).toEqual({ ...recipe });
    }
    expect(spanOf("The next 8").values).toEqual([8, 9, 10, 11, 12, 13, 14, 15]);
    expect(spanOf("Hold lines")).toEqual({ control: "lines", values: [0, 0.25, 0.5, 0.75, 1] });
    expect(spanOf("In the other").values).toEqual(["oil", "neon"]);
  });
  it("offers to render anew, beside it, what another engine made", () => {
    const older = { ...take, engine: "15" };
    expect(fromTake(older, "a", sources, [], "photo", "16")[0]).toMatchObject({ title: "Anew, beside it", request: { source_id: "a", recipe, spans: [] } });
    for (const now of ["15", undefined]) expect(fromTake(older, "a", sources, [], "photo", now).some((item) => item.title.startsWith("Anew"))).toBe(false);
  });
  it("offers every other source, and to finish a draft before all else", () => {
    expect(items.filter((item) => item.title.startsWith("On ")).map((item) => [item.title, item.request.source_id])).toEqual([["On slip.png", "b"]]);
    expect(items.some((item) => item.title.startsWith("Finish"))).toBe(false);
    const draft = fromTake({ ...take, recipe: { ...recipe, quality: "draft" } }, "a", sources, [], "photo");
    expect(draft[0]).toMatchObject({ title: "Finish it in full", request: { source_id: "a", recipe: { quality: "full", seed: 7 }, spans: [] } });
  });
});
