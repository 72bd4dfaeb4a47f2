import { describe, expect, it } from "vitest";
import { clamp, mostValues, snap, stepOf, valuesOf, withStep } from "./span";

describe("spans", () => {
  it("includes both ends", () => {
    expect(valuesOf({ from: 0.3, to: 0.9, count: 5 }, 2)).toEqual([0.3, 0.45, 0.6, 0.75, 0.9]);
  });
  it("gives a value once when rounding makes it twice", () => {
    expect(valuesOf({ from: 0.1, to: 0.12, count: 5 }, 2)).toEqual([0.1, 0.11, 0.12]);
    expect(valuesOf({ from: 4, to: 4, count: 5 }, 0)).toEqual([4]);
  });
  it("runs downwards too", () => {
    expect(valuesOf({ from: 9, to: 3, count: 3 }, 0)).toEqual([9, 6, 3]);
  });
  it("snaps without binary noise", () => {
    expect(snap(0.30000000000000004, 0.01)).toBe(0.3);
    expect(snap(7.4, 1)).toBe(7);
  });
  it("counts what fits", () => {
    expect(mostValues({ from: 1, to: 3, count: 9 }, 1)).toBe(3);
    expect(clamp(5, 0, 1)).toBe(1);
  });
  it("takes a step that was typed, and says the one there is", () => {
    const span = withStep({ from: 0.65, to: 0.8, count: 2 }, 0.05, 20);
    expect(valuesOf(span, 2)).toEqual([0.65, 0.7, 0.75, 0.8]);
    expect(stepOf(span)).toBe(0.05);
    expect(withStep({ from: 0.65, to: 0.72, count: 4 }, 0.01, 20).count).toBe(8);
    // Only whole steps fit: the end comes nearer.
    expect(withStep({ from: 3, to: 9, count: 3 }, 4, 20)).toEqual({ from: 3, to: 7, count: 2 });
    expect(withStep({ from: 0, to: 1, count: 3 }, 0.01, 20).count).toBe(20);
    expect(withStep({ from: 0.9, to: 0.5, count: 3 }, 0.2, 20)).toEqual({ from: 0.9, to: 0.5, count: 3 });
  });
});
