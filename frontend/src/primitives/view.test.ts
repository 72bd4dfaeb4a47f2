import { describe, expect, it } from "vitest";
import { centred, fitted, kept, zoomedAt } from "./view";

const picture = { width: 512, height: 341 };
const stage = { width: 1000, height: 600 };

describe("view", () => {
  it("fits the whole picture in the middle", () => {
    const view = fitted(picture, stage, 20);
    expect(view.scale).toBeCloseTo(560 / 341);
    expect(view.x + (picture.width * view.scale) / 2).toBeCloseTo(500);
    expect(view.y).toBeCloseTo(20);
  });
  it("keeps the point under the pointer", () => {
    const before = centred(picture, stage, 1);
    const after = zoomedAt(before, 4, 300, 200);
    const spot = (view: typeof before) => [(300 - view.x) / view.scale, (200 - view.y) / view.scale];
    expect(spot(after)[0]).toBeCloseTo(spot(before)[0]!);
    expect(spot(after)[1]).toBeCloseTo(spot(before)[1]!);
  });
  it("does not lose the picture", () => {
    const lost = kept({ x: 5000, y: -5000, scale: 1 }, picture, stage);
    expect(lost.x).toBe(940);
    expect(lost.y).toBe(60 - 341);
  });
});
