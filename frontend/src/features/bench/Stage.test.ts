import { expect, it } from "vitest";
import { nextScale, SCALES, zoomedInMiddle } from "./Stage";

it("steps through the scales, also from between two", () => {
  expect(nextScale(1, true)).toBe(1.5);
  expect(nextScale(1.69, true)).toBe(2);
  expect(nextScale(1.69, false)).toBe(1.5);
  expect(nextScale(SCALES.at(-1)!, true)).toBe(4);
  expect(nextScale(SCALES[0]!, false)).toBe(0.25);
});

it("zooms about the middle of what is seen", () => {
  const view = zoomedInMiddle({ x: 0, y: 0, scale: 1 }, { width: 400, height: 200 }, 2);
  expect(view).toEqual({ scale: 2, x: -200, y: -100 });
});
