import { beforeEach, expect, it, vi } from "vitest";
import type { Recipe } from "../api/client";

vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => undefined, removeItem: () => undefined, clear: () => undefined });
const { bandOf, setValue, turned, useBands, withList, withSpan, withVersions } = await import("./band");
const { axesOf, requestOf } = await import("./controls");

const recipe = { strength: 0.6, seed: 7, holds: { lines: 0.7, shapes: 0.7, colours: 0.3 } } as Recipe;
const store = useBands.getState;

beforeEach(() => {
  vi.useFakeTimers();
  useBands.setState({ bands: {}, history: {} });
  store().begin("a", { recipe, spans: {} });
});

it("undoes one movement of the hand at once, and redoes it", () => {
  store().change("a", setValue("strength", 0.61));
  store().change("a", setValue("strength", 0.7));
  vi.advanceTimersByTime(1000);
  store().change("a", setValue("seed", 9));
  store().undo("a");
  expect(store().bands.a?.recipe).toMatchObject({ strength: 0.7, seed: 7 });
  store().undo("a");
  expect(store().bands.a?.recipe.strength).toBe(0.6);
  store().undo("a");
  store().redo("a");
  expect(store().bands.a?.recipe.strength).toBe(0.7);
});

it("does not begin a study's band twice", () => {
  store().change("a", setValue("seed", 9));
  store().begin("a", { recipe, spans: {} });
  expect(store().bands.a?.recipe.seed).toBe(9);
});

it("stretches at most three controls, lists and versions among them", () => {
  const span = { from: 1, to: 3, count: 3 };
  const two = withSpan(withSpan({ recipe, spans: {} }, "seed", span)!, "strength", span)!;
  const three = withList(two, "look", ["oil", "neon"])!;
  expect(three.recipe.look).toBe("oil");
  expect(withSpan(three, "guidance", span)).toBeNull();
  expect(withVersions(three, ["mist"])).toBeNull();
  expect(withList(three, "size", [256, 512])).toBeNull();
  expect(withSpan(three, "seed", { ...span, to: 5 })?.spans.seed?.to).toBe(5);
  expect(Object.keys(withSpan(three, "seed", null)!.spans)).toEqual(["strength"]);
  // One ticked value is no axis.
  const single = withList(three, "look", ["neon"])!;
  expect([single.lists, single.recipe.look]).toEqual([{}, "neon"]);
});

it("turns the axes round", () => {
  const span = { from: 1, to: 3, count: 3 };
  let band = withList({ recipe, spans: { seed: span, strength: span } }, "look", ["oil", "neon"])!;
  const seen = [0, 1, 2, 3].map(() => {
    const axes = axesOf(band);
    band = turned(band);
    return axes.join();
  });
  expect(seen).toEqual(["strength,seed,look", "seed,look,strength", "look,strength,seed", "strength,seed,look"]);
});

it("takes the settings of a sweep back with their axes", () => {
  const spans = [{ control: "prompt", values: ["", "mist"] }, { control: "look", values: ["oil", "neon"] }, { control: "strength", values: [0.3, 0.6, 0.9] }];
  const band = bandOf({ recipe, spans });
  expect(requestOf("s", band.recipe, band).spans).toEqual(spans);
});
