import { describe, expect, it } from "vitest";
import { boundsOf, byColour, grown, insideOf, inverted, isEmpty, joined, meanColour, none, oklab, softened, type Pixels, type Selection } from "./select";

const count = (s: Selection) => s.plane.filter((v) => v > 127).length;
const square = (left: number, top: number, side: number) => insideOf([{ x: left, y: top }, { x: left + side, y: top }, { x: left + side, y: top + side }, { x: left, y: top + side }], 20, 16);

/** Red and blue halves, and a red island in the blue. */
function picture(): Pixels {
  const data = new Uint8ClampedArray(20 * 16 * 4);
  for (let k = 0; k < 20 * 16; k++) {
    const [x, y] = [k % 20, Math.floor(k / 20)];
    const red = x < 8 || (x >= 14 && x < 16 && y >= 4 && y < 6);
    data.set(red ? [200, 30, 20, 255] : [20, 40, 190, 255], 4 * k);
  }
  return { width: 20, height: 16, data };
}

describe("selections", () => {
  it("are the inside of a line, holes by crossing it twice", () => {
    expect(count(square(2, 3, 5))).toBe(25);
    expect(boundsOf(square(2, 3, 5))).toEqual({ left: 2, top: 3, width: 5, height: 5 });
    expect(count(insideOf([{ x: 0, y: 0 }, { x: 40, y: 0 }, { x: 40, y: 40 }, { x: 0, y: 40 }], 20, 16))).toBe(320);
  });
  it("follow a colour, together or everywhere", () => {
    expect(count(byColour(picture(), { x: 2, y: 2 }, 0.1, true))).toBe(8 * 16);
    expect(count(byColour(picture(), { x: 2, y: 2 }, 0.1, false))).toBe(8 * 16 + 4);
    expect(count(byColour(picture(), { x: 2, y: 2 }, 2, true))).toBe(320);
    expect(isEmpty(byColour(picture(), { x: -1, y: 2 }, 1, true))).toBe(true);
  });
  it("join, invert, grow and shrink", () => {
    const [a, b] = [square(2, 2, 6), square(5, 2, 6)];
    expect(count(joined(a, b, "add"))).toBe(54);
    expect(count(joined(a, b, "away"))).toBe(18);
    expect(count(joined(a, b, "cross"))).toBe(18);
    expect(joined(a, b, "new")).toBe(b);
    expect(count(inverted(a))).toBe(320 - 36);
    expect(count(grown(a, 1))).toBe(36 + 24);
    expect(count(grown(a, -1))).toBe(16);
    expect(grown(none(20, 16), 2).plane.every((v) => v === 0)).toBe(true);
  });
  it("fade at a soft edge and keep their middle", () => {
    const soft = softened(square(2, 2, 12), 4);
    expect(soft.plane[8 * 20 + 8]).toBeGreaterThan(245);
    expect(soft.plane[8 * 20 + 2]).toBeGreaterThan(60);
    expect(soft.plane[8 * 20 + 2]).toBeLessThan(200);
  });
  it("read colours", () => {
    expect(meanColour(picture(), { x: 3, y: 3 }, 5)).toBe("#c81e14");
    expect(meanColour(picture(), { x: 0, y: 0 }, 15)).toBe("#c81e14");
    expect(oklab(255, 255, 255)[0]).toBeCloseTo(1, 3);
    expect(Math.abs(oklab(128, 128, 128)[1])).toBeLessThan(1e-3);
  });
});
