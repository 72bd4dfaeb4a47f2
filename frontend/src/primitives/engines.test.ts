import { describe, expect, it } from "vitest";
import type { Choices, Recipe } from "../api/client";
import { engineNamed, hears, lookTitle, offeredBy, tagOf, withEngine } from "./engines";

const engine = { version: "16", built_in: true, answers: true, repeatable: true, sizes: [64, 2048], looks: [], samplers: [{ name: "dpm++2m", title: "DPM" }], controls: [], holds: [], words: true, regions: true, at_once: 1 };
const studio = { ...engine, name: "studio-a", title: "Studio A", version: "2", built_in: false, looks: [{ name: "day", title: "Day", description: "" }], samplers: [], controls: [{ name: "strength", low: 0, high: 1 }], holds: ["lines"] };
const choices = {
  engines: [{ ...engine, name: "built-in", title: "Built-in" }, studio], kinds: ["photo"], samplers: engine.samplers,
  looks: [{ name: "pencil", title: "Pencil" }], defaults: { look: "pencil", sampler: "dpm++2m" },
} as unknown as Choices;
const recipe = { engine: "built-in", look: "pencil", second_look: "pencil", sampler: "dpm++2m" } as Recipe;

describe("engines", () => {
  it("offer their own looks, and the built-in one the program's", () => {
    expect(offeredBy(choices, "built-in")).toBe(choices);
    expect(offeredBy(choices, undefined)).toBe(choices);
    expect(offeredBy(choices, "gone")).toBe(choices);
    expect(offeredBy(choices, "studio-a").looks.map((look) => [look.title, look.category])).toEqual([["Day", "Studio A"]]);
  });
  it("hear what they say they hear; the built-in one hears all", () => {
    const at = engineNamed(choices, "studio-a");
    expect(["strength", "guidance", "lines", "depth"].map((control) => hears(at, control))).toEqual([true, false, true, false]);
    expect(hears(engineNamed(choices, undefined), "depth")).toBe(true);
  });
  it("are named before their looks, even when they are gone", () => {
    expect(lookTitle(choices, recipe)).toBe("Pencil");
    expect(lookTitle(choices, { engine: "studio-a", look: "day" })).toBe("Studio A: Day");
    expect(lookTitle(choices, { engine: "gone", look: "day" })).toBe("gone: day");
  });
  it("are chosen with a look and a sampler that they have", () => {
    expect(withEngine(choices, recipe, "studio-a")).toEqual({ engine: "studio-a", look: "day", second_look: null, sampler: "dpm++2m" });
    expect(withEngine(choices, { ...recipe, look: "day", engine: "studio-a" }, "built-in")).toEqual({ engine: "built-in", look: "pencil", second_look: "pencil", sampler: "dpm++2m" });
  });
  it("are known by name and version, the built-in one by its version", () => {
    expect(choices.engines.map(tagOf)).toEqual(["16", "studio-a 2"]);
  });
});
