import { describe, expect, it } from "vitest";
import { pinched, type Pinch } from "./pinch";

const laid = { cell: { width: 72, height: 48 }, step: { x: 80, y: 56 }, columns: 20, rows: 20 };
const view = { left: 200, top: 100, right: 1000, bottom: 700 };
const begun: Pinch = { wide: 72, hand: { x: 600, y: 400 }, point: { x: 0, y: 0 }, from: { x: -100, y: -200 }, at: { x: -100, y: -200 }, step: laid.step };

/** Over which cell a point of the window is. */
const over = (pinch: Pinch, x: number) => (x - pinch.at.x) / pinch.step.x;

describe("pinched", () => {
  it("keeps what is under the hand under it, step after step", () => {
    let pinch = begun;
    const before = over(pinch, 600);
    for (const wide of [80, 95, 130, 110]) {
      pinch = pinched(pinch, { x: 600, y: 400 }, wide, laid, view);
      expect(over(pinch, 600)).toBeCloseTo(before, 6);
      expect(pinch.step.x - wide).toBe(8);
    }
    expect(pinch.point.x).toBeCloseTo(before, 6);
  });
  it("follows a hand that moves", () => {
    const first = pinched(begun, { x: 600, y: 400 }, 100, laid, view);
    const cell = over(first, 640);
    expect(over(pinched(first, { x: 640, y: 400 }, 120, laid, view), 640)).toBeCloseTo(cell, 6);
  });
  it("leaves no room empty that the matrix can fill", () => {
    const corner = { ...begun, from: { x: 200, y: 100 }, at: { x: 200, y: 100 } };
    const larger = pinched(corner, { x: 250, y: 150 }, 120, laid, view);
    const smaller = pinched(larger, { x: 990, y: 690 }, 72, laid, view);
    for (const pinch of [larger, smaller]) {
      expect(pinch.at.x).toBeLessThanOrEqual(view.left);
      expect(pinch.at.x + laid.columns * pinch.step.x - 8).toBeGreaterThanOrEqual(view.right);
    }
  });
  it("stands in the middle, below the labels, where the matrix is smaller than the view", () => {
    const few = { ...laid, columns: 3, rows: 2 };
    const pinch = pinched({ ...begun, at: { x: 484, y: 100 } }, { x: 500, y: 200 }, 80, few, view);
    expect(pinch.at).toEqual({ x: 200 + (800 - (3 * 88 - 8)) / 2, y: 100 });
  });
});
