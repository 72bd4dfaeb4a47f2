import { describe, expect, it } from "vitest";
import { keyed, leantTo, movedTo, ovalAt, ovalBetween, TALL, upright, widenedTo, type Oval } from "./faces";

const PICTURE = { x: 1, y: 0.75 };
const face: Oval = { x: 0.5, y: 0.4, width: 0.2, angle: 0 };

describe("ovals of faces", () => {
  it("fill the box that was drawn, from any corner", () => {
    const drawn = ovalBetween({ x: 0.4, y: 0.2 }, { x: 0.6, y: 0.2 + 0.2 * TALL });
    expect(drawn.width).toBeCloseTo(0.2, 4);
    expect(ovalBetween({ x: 0.6, y: 0.2 + 0.2 * TALL }, { x: 0.4, y: 0.2 })).toEqual(drawn);
    expect(ovalBetween({ x: 0.1, y: 0.1 }, { x: 0.1, y: 0.1 }).width).toBe(0.02);
  });

  it("are hit within, the smaller before the larger, leaning as they do", () => {
    const large = { ...face, width: 0.6 };
    expect(ovalAt([face, large], { x: 0.5, y: 0.45 })).toBe(0);
    expect(ovalAt([face, large], { x: 0.72, y: 0.4 })).toBe(1);
    expect(ovalAt([face], { x: 0.62, y: 0.4 })).toBe(-1);
    // On its side it is wider than tall.
    expect(ovalAt([{ ...face, angle: 90 }], { x: 0.62, y: 0.4 })).toBe(0);
    expect(ovalAt([{ ...face, angle: 90 }], { x: 0.5, y: 0.52 })).toBe(-1);
  });

  it("are widened and leant by their handles", () => {
    expect(widenedTo(face, { x: 0.75, y: 0.9 }).width).toBeCloseTo(0.5, 4);
    expect(leantTo(face, { x: 0.5, y: 0 }).angle).toBe(0);
    expect(leantTo(face, { x: 0.9, y: 0.4 }).angle).toBe(90);
    expect(leantTo(face, { x: 0.4, y: 0.3 }).angle).toBe(-45);
    expect([upright(190), upright(-181), upright(360)]).toEqual([-170, 179, 0]);
  });

  it("stay with their middle in the picture, and follow keys", () => {
    expect(movedTo(face, { x: 1.4, y: -1 }, PICTURE)).toMatchObject({ x: 1, y: 0 });
    expect(keyed(face, "ArrowRight", true, PICTURE)?.x).toBeCloseTo(0.55);
    expect(keyed({ ...face, y: 0.748 }, "ArrowDown", false, PICTURE)?.y).toBe(0.75);
    expect(keyed(face, "+", false, PICTURE)!.width).toBeGreaterThan(face.width);
    expect(keyed(face, "[", false, PICTURE)?.angle).toBe(-5);
    expect(keyed(face, "q", false, PICTURE)).toBeNull();
  });
});
