import { describe, expect, it } from "vitest";
import { above, boxOf, changed, freshId, halvings, layerAt, onto, placeNew, reordered, snapped, type Layer, type Stack, within, without } from "./stack";

const layer = (id: string, part: Partial<Layer> = {}): Layer => ({ id, name: id, picture: "0".repeat(64), ground: null, mask: null, place: { x: 50, y: 40, width: 20, height: 10, turn: 0, across: false, down: false }, opacity: 1, shown: true, locked: false, origin: "", ...part });
const stack: Stack = { width: 100, height: 80, layers: [layer("a"), layer("b"), layer("c")] };

describe("layers", () => {
  it("come and go without touching the others", () => {
    expect(above(stack, "a", layer("n")).layers.map((l) => l.id)).toEqual(["a", "n", "b", "c"]);
    expect(above(stack, null, layer("n")).layers.map((l) => l.id)).toEqual(["a", "b", "c", "n"]);
    expect(without(stack, "b").layers.map((l) => l.id)).toEqual(["a", "c"]);
    expect(changed(stack, "b", { opacity: 0.5 }).layers.map((l) => l.opacity)).toEqual([1, 0.5, 1]);
  });
  it("change their order and stop at the ends", () => {
    expect(reordered(stack, "a", 1).layers.map((l) => l.id)).toEqual(["b", "a", "c"]);
    expect(reordered(stack, "a", 9).layers.map((l) => l.id)).toEqual(["b", "c", "a"]);
    expect(reordered(stack, "a", -1)).toBe(stack);
  });
  it("get ids that nobody has", () => {
    expect(freshId({ ...stack, layers: [layer("l1"), layer("l2")] })).toBe("l3");
  });
});

describe("places", () => {
  it("lie in the middle and are never enlarged", () => {
    expect(placeNew({ width: 400, height: 100 }, stack)).toMatchObject({ x: 50, y: 40, width: 100, height: 25 });
    expect(placeNew({ width: 10, height: 10 }, stack, 0.5, { x: 3, y: 4 })).toMatchObject({ x: 3, y: 4, width: 10, height: 10 });
  });
  it("lead there and back", () => {
    const place = { x: 33, y: 21, width: 40, height: 30, turn: 35, across: true, down: false };
    const [a, b, c, d, e, f] = onto(place, 80, 20);
    const back = within(place, 80, 20, { x: a * 7 + c * 9 + e, y: b * 7 + d * 9 + f });
    expect(back.x).toBeCloseTo(7, 6);
    expect(back.y).toBeCloseTo(9, 6);
  });
  it("turn clockwise: the left comes to the top", () => {
    const [a, b, c, d, e, f] = onto({ x: 50, y: 50, width: 20, height: 10, turn: 90, across: false, down: false }, 20, 10);
    expect(a * 0 + c * 5 + e).toBeCloseTo(50, 6);
    expect(b * 0 + d * 5 + f).toBeCloseTo(40, 6);
  });
  it("have an upright box", () => {
    expect(boxOf({ x: 50, y: 50, width: 20, height: 10, turn: 90, across: false, down: false })).toMatchObject({ left: 45, right: 55 });
  });
  it("are found from above, locked and hidden ones never", () => {
    expect(layerAt(stack, { x: 50, y: 40 })?.id).toBe("c");
    expect(layerAt(changed(stack, "c", { locked: true }), { x: 50, y: 40 })?.id).toBe("b");
    expect(layerAt(stack, { x: 1, y: 1 })).toBeUndefined();
  });
  it("snap to edges, middles and thirds within reach only", () => {
    expect(snapped({ ...layer("a").place, x: 12 }, stack, 3)).toMatchObject({ x: 10, across: [0] });
    expect(snapped({ ...layer("a").place, x: 48 }, stack, 3)).toMatchObject({ x: 50, across: [50] });
    expect(snapped({ ...layer("a").place, x: 22, y: 20 }, stack, 3)).toMatchObject({ x: 22, y: 20, across: [], down: [] });
  });
  it("are halved until little is skipped", () => {
    expect(halvings({ ...layer("a").place, width: 20, height: 10 }, 20, 10)).toBe(0);
    expect(halvings({ ...layer("a").place, width: 20, height: 10 }, 80, 40)).toBe(2);
  });
});
