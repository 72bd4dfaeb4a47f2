import { describe, expect, it } from "vitest";
import { couldHold, finerSpan, heldOn, lastThatKeeps, tipShort, tipWords } from "./tip";

describe("tipWords", () => {
  const told = { strength: null, low: null, high: null, plateau: 97, fall: 4 };
  it("names the strength and what was rendered on either side", () => {
    const tip = { ...told, outcome: "tip" as const, strength: 0.617, low: 0.55, high: 0.65, fall: 60 };
    expect(tipWords(tip)).toBe("Gives way at strength 0.62 (between 0.55 and 0.65).");
    expect(tipShort(tip)).toBe("Gives way at strength 0.62.");
  });
  it("tells an even decline from none", () => {
    expect(tipWords({ ...told, outcome: "even", fall: 41.6 })).toContain("42 points");
    expect(tipWords({ ...told, outcome: "none" })).toBe("No tip in this range: 93 to 97 kept.");
  });
});

describe("finerSpan", () => {
  it("has at most six values and no step under a hundredth", () => {
    expect(finerSpan(0.5, 0.65)).toEqual({ from: 0.5, to: 0.65, count: 6 });
    expect(finerSpan(0.5, 0.52)).toEqual({ from: 0.5, to: 0.52, count: 3 });
    expect(finerSpan(0.5, 0.5).count).toBe(2);
  });
});

describe("the next step from a tip", () => {
  const tip = { outcome: "tip" as const, strength: 0.66, low: 0.6, high: 0.75, plateau: 98, fall: 40 };
  it("is the last strength that keeps the composition", () => {
    expect(lastThatKeeps(tip, [0.3, 0.45, 0.6, 0.75, 0.9])).toBe(0.6);
    expect(lastThatKeeps({ ...tip, outcome: "none", low: null }, [0.3, 0.6])).toBeNull();
  });
  it("is to hold lines and shapes where they are not held already", () => {
    expect(couldHold({ lines: 0.3, shapes: 0.3 })).toBe(true);
    expect(heldOn({ lines: 0.3, shapes: 0.95, colours: 0.2 })).toEqual({ lines: 0.85, shapes: 0.95, colours: 0.2 });
    expect(couldHold(heldOn({ lines: 0, shapes: 0 }))).toBe(false);
  });
});
