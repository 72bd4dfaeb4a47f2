import { describe, expect, it } from "vitest";
import { draggedCrop, keptShare, levelCrop, shapedCrop } from "./crop";

const whole = { left: 0, top: 0, right: 1, bottom: 1 };

describe("shapedCrop", () => {
  it("is the largest of its shape, around the middle", () => {
    expect(shapedCrop(whole, 0.5)).toEqual({ left: 0.25, top: 0, right: 0.75, bottom: 1 });
    expect(shapedCrop(whole, 2)).toEqual({ left: 0, top: 0.25, right: 1, bottom: 0.75 });
  });
});

describe("draggedCrop", () => {
  const box = { left: 0.2, top: 0.2, right: 0.6, bottom: 0.6 };
  it("moves as a whole and stops at the rim", () => {
    const out = draggedCrop(box, "move", 0.9, -0.1, null);
    expect([out.left, out.top, out.right, out.bottom].map((v) => Number(v.toFixed(6)))).toEqual([0.6, 0.1, 1, 0.5]);
  });
  it("moves one corner and leaves the other", () => {
    const out = draggedCrop(box, "se", 0.1, 0.9, null);
    expect([out.left, out.top]).toEqual([0.2, 0.2]);
    expect(out.right).toBeCloseTo(0.7);
    expect(out.bottom).toBe(1);
  });
  it("keeps its shape and never turns inside out", () => {
    const out = draggedCrop(box, "nw", 0.2, 0.05, 1);
    expect((out.right - out.left) / (out.bottom - out.top)).toBeCloseTo(1);
    expect(out.bottom).toBe(0.6);
    expect(keptShare(draggedCrop(box, "nw", 5, 5, null))).toBeGreaterThan(0);
  });
});

describe("levelCrop", () => {
  it("is everything when nothing is turned, and less the more is", () => {
    const picture = { width: 300, height: 200 };
    expect(keptShare(levelCrop(picture, 0))).toBe(1);
    expect(keptShare(levelCrop(picture, -10))).toBeLessThan(keptShare(levelCrop(picture, 4)));
  });
  it("has its corners inside the turned picture", () => {
    const box = levelCrop({ width: 300, height: 200 }, 12);
    const turn = (12 * Math.PI) / 180;
    const x = (box.right - 0.5) * 300;
    const y = (box.bottom - 0.5) * 200;
    for (const [cx, cy] of [[x, y], [x, -y]] as const) {
      expect(Math.abs(cx * Math.cos(turn) + cy * Math.sin(turn))).toBeLessThanOrEqual(150.001);
      expect(Math.abs(cy * Math.cos(turn) - cx * Math.sin(turn))).toBeLessThanOrEqual(100.001);
    }
  });
  it("moves one edge, and with a shape kept the other sides about the middle", () => {
    const box = { left: 0.2, top: 0.2, right: 0.8, bottom: 0.6 };
    expect(draggedCrop(box, "e", -0.2, 0.9, null)).toEqual({ ...box, right: expect.closeTo(0.6) });
    expect(draggedCrop(box, "n", 0.5, -0.9, null)).toEqual({ ...box, top: 0 });
    const kept = draggedCrop(box, "e", -0.3, 0, 1.5);
    expect((kept.right - kept.left) / (kept.bottom - kept.top)).toBeCloseTo(1.5);
    expect((kept.top + kept.bottom) / 2).toBeCloseTo(0.4);
  });
});
