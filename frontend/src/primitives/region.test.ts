import { describe, expect, it } from "vitest";
import { maskSize, nextWidth, painted, shownIn, stepped, WIDTHS } from "./region";

describe("region", () => {
  it("has brushes from a hair to half the picture", () => {
    expect(nextWidth(0.08, true)).toBeCloseTo(0.1);
    expect(nextWidth(0.1, false)).toBeCloseTo(0.08);
    expect(nextWidth(WIDTHS[1], true)).toBe(WIDTHS[1]);
    expect(nextWidth(WIDTHS[0], false)).toBe(WIDTHS[0]);
  });
  it("keeps the picture's shape in at most 1024 px", () => {
    expect(maskSize(4096, 2048)).toEqual({ width: 1024, height: 512 });
    expect(maskSize(300, 200)).toEqual({ width: 300, height: 200 });
    expect(maskSize(5000, 1)).toEqual({ width: 1024, height: 1 });
  });
  it("is shown as large as there is room, and nothing where there is none", () => {
    expect(shownIn({ width: 648, height: 900 }, { width: 300, height: 200 }, 24)).toEqual({ width: 600, height: 400 });
    expect(shownIn({ width: 0, height: 0 }, { width: 300, height: 200 }, 24)).toEqual({ width: 0, height: 0 });
  });
  it("moves by arrows and stays in the picture", () => {
    expect(stepped({ x: 0.5, y: 0.5 }, "ArrowLeft", false)).toEqual({ x: 0.48, y: 0.5 });
    expect(stepped({ x: 0.5, y: 0.95 }, "ArrowDown", true)).toEqual({ x: 0.5, y: 1 });
    expect(stepped({ x: 0.5, y: 0.5 }, "Enter", false)).toBeNull();
  });
  it("tells how much is painted", () => {
    expect(painted([0, 0, 0, 255, 0, 0, 0, 0])).toBe(0.5);
    expect(painted([])).toBe(0);
  });
});
