import { describe, expect, it } from "vitest";
import { between, contrast, css, inkOn } from "./contrast";

describe("contrast", () => {
  it("is 21 of black on white and 1 of a colour on itself", () => {
    expect(contrast([0, 0, 0], [255, 255, 255])).toBeCloseTo(21);
    expect(contrast([27, 119, 116], [27, 119, 116])).toBe(1);
  });
  it("leaves words readable on every step between paper and teal", () => {
    for (let share = 0; share <= 1; share += 0.01) {
      const ground = between([255, 253, 249], [27, 119, 116], share);
      expect(contrast(ground, inkOn(ground))).toBeGreaterThan(4.5);
    }
  });
  it("writes a colour", () => {
    expect(css(between([0, 0, 0], [10, 20, 30], 0.5))).toBe("rgb(5 10 15)");
  });
});
