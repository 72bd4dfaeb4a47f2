import { describe, expect, it } from "vitest";
import { asItIs, behindBox, movedBy, rectangle, sizedTo, type Box } from "./placement";

const box: Box = [0.2, 0.1, 0.6, 0.9];

describe("placement", () => {
  it("begins where the cut-out is", () => {
    expect(asItIs(box)).toEqual({ x: 0.4, y: 0.9, tall: 0.8, stance: "auto" });
    const { left, top, width, height } = rectangle(asItIs(box), box, 1.5);
    expect([left, top, left + width, top + height].map((v) => Number(v.toFixed(6)))).toEqual([...box]);
  });
  it("keeps its shape at any size", () => {
    const small = rectangle(sizedTo(asItIs(box), 0.4), box, 1.5);
    expect(small.width / small.height).toBeCloseTo(0.4 / 0.8);
    expect(small.left + small.width / 2).toBeCloseTo(0.4);
    expect(small.top + small.height).toBeCloseTo(0.9);
  });
  it("stays within what a recipe may say", () => {
    expect(movedBy(asItIs(box), 9, 9)).toMatchObject({ x: 1.5, y: 1.5 });
    expect(movedBy(asItIs(box), -9, -9)).toMatchObject({ x: -0.5, y: 0 });
    expect([sizedTo(asItIs(box), 9).tall, sizedTo(asItIs(box), 0).tall]).toEqual([2, 0.05]);
    expect(movedBy(asItIs(box), 0.1, 0.05).x).toBe(0.5);
  });
  it("lays the source so that the cut-out fills its box", () => {
    expect(behindBox([0, 0, 1, 1])).toEqual({ size: "100% 100%", position: "0% 0%" });
    expect(behindBox([0.25, 0.5, 0.75, 1])).toEqual({ size: "200% 200%", position: "50% 100%" });
  });
});
