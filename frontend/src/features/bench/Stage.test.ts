import { describe, expect, it } from "vitest";
import { nextScale, paneColumns, paneOf, zoomedInMiddle } from "./Stage";
import { colourAt } from "./usePixels";

describe("panes of the bench", () => {
  it("stand in one row up to three, then in two", () => {
    expect([1, 2, 3, 4, 5].map(paneColumns)).toEqual([1, 2, 3, 2, 3]);
    const room = { width: 1000, height: 600 };
    expect(paneOf("divider", 4, room)).toEqual(room);
    expect(paneOf("pair", 1, room)).toEqual({ width: 499, height: 600 });
    expect(paneOf("pair", 4, room)).toEqual({ width: (1000 - 4) / 3, height: 299 });
    expect(paneOf("alone", 2, room).width).toBe(499);
  });
  it("zoom to the next scale about the middle", () => {
    expect(nextScale(1, true)).toBe(1.5);
    expect(nextScale(1.2, false)).toBe(1);
    expect(nextScale(4, true)).toBe(4);
    const view = zoomedInMiddle({ x: 0, y: 0, scale: 1 }, { width: 200, height: 100 }, 2);
    expect(view).toEqual({ x: -100, y: -50, scale: 2 });
  });
  it("read the colour under the pointer, and none outside", () => {
    const pixels = { width: 2, height: 1, data: new Uint8ClampedArray([255, 0, 16, 255, 1, 2, 3, 255]) };
    expect(colourAt(pixels, 0.2, 0.5)).toBe("#ff0010");
    expect(colourAt(pixels, 0.99, 0)).toBe("#010203");
    expect([colourAt(pixels, 1, 0), colourAt(pixels, -0.1, 0), colourAt(null, 0, 0)]).toEqual([null, null, null]);
  });
});
