import { describe, expect, it } from "vitest";
import { clamp, mostValues, snap, valuesOf } from "./span";

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
});
