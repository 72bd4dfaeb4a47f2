import { describe, expect, it } from "vitest";
import { readStrength } from "./strength";

describe("a strength as typed", () => {
  it("is a number, or what is kept the other way round", () => {
    expect(["0.62", "0,62", "keep 70 %", "Keep 25%", "keep 100", "keep 12.5 %"].map(readStrength)).toEqual([0.62, 0.62, 0.3, 0.75, 0, 0.88]);
    expect(readStrength("keep it")).toBeNaN();
  });
});
