import { beforeEach, expect, it, vi } from "vitest";
import type { Recipe } from "../../api/client";

vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => undefined, removeItem: () => undefined, clear: () => undefined });
const { setValue, useBands, withSpan } = await import("./band");

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

it("stretches at most two controls", () => {
  const span = { from: 1, to: 3, count: 3 };
  const two = withSpan(withSpan({ recipe, spans: {} }, "seed", span)!, "strength", span)!;
  expect(withSpan(two, "guidance", span)).toBeNull();
  expect(withSpan(two, "seed", { ...span, to: 5 })?.spans.seed?.to).toBe(5);
  expect(Object.keys(withSpan(two, "seed", null)!.spans)).toEqual(["strength"]);
});
