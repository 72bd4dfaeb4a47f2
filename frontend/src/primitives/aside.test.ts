import { describe, expect, it } from "vitest";
import { asideFor, SIDE_WIDTH } from "./aside";

const frame = { left: 0, right: 1280 };

describe("asideFor", () => {
  it("stands at the right edge while its take lies elsewhere", () => {
    expect(asideFor(frame, { left: 200, right: 500 })).toBe(asideFor(frame, undefined));
  });
  it("steps to the left of a take that it would cover", () => {
    const right = asideFor(frame, { left: 1000, right: 1270 });
    expect(1280 - right).toBeLessThan(1000);
    expect(1280 - right - SIDE_WIDTH).toBeGreaterThan(0);
  });
  it("stays at the edge where there is no room at either side", () => {
    expect(asideFor(frame, { left: 100, right: 1270 })).toBe(asideFor(frame, undefined));
  });
  it("does not mind a take that is scrolled out of sight", () => {
    expect(asideFor(frame, { left: 1300, right: 1500 })).toBe(asideFor(frame, undefined));
  });
});
