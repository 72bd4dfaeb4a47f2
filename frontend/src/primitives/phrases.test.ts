import { describe, expect, it } from "vitest";
import { clampWeight, movedPhrase, readPhrases, versionLabels, withPhrases, writePhrases } from "./phrases";

describe("phrases of a prompt", () => {
  it("are read with their weights and written back", () => {
    expect(readPhrases("golden hour, mist^1.4; loose\n snow^.5")).toEqual([
      { text: "golden hour", weight: 1 },
      { text: "mist", weight: 1.4 },
      { text: "loose", weight: 1 },
      { text: "snow", weight: 0.5 },
    ]);
    for (const prompt of ["", "mist", "golden hour, mist^1.4, snow^0.5"]) expect(writePhrases(readPhrases(prompt))).toBe(prompt);
  });
  it("keep a weight that can't be read as text, so that nothing typed is lost", () => {
    expect(readPhrases("mist^9, snow^x")).toEqual([{ text: "mist^9", weight: 1 }, { text: "snow^x", weight: 1 }]);
  });
  it("leave out what is empty", () => {
    expect(readPhrases(" , ,, mist,")).toEqual([{ text: "mist", weight: 1 }]);
  });
  it("keep weights inside what the engine takes", () => {
    expect([0, 0.123, 1.999, 7].map(clampWeight)).toEqual([0.1, 0.12, 2, 2]);
  });
});

describe("order", () => {
  const abc = readPhrases("a, b, c");
  it("moves one phrase and closes the gap", () => {
    expect(writePhrases(movedPhrase(abc, 0, 2))).toBe("b, c, a");
    expect(writePhrases(movedPhrase(abc, 2, 0))).toBe("c, a, b");
    expect(writePhrases(movedPhrase(abc, 1, 9))).toBe("a, c, b");
    expect(writePhrases(movedPhrase(abc, 7, 0))).toBe("a, b, c");
  });
});

describe("adding", () => {
  it("puts phrases behind, once", () => {
    expect(withPhrases("mist^1.2, ", ["Mist", "snow^0.5"])).toBe("mist^1.2, snow^0.5");
    expect(withPhrases("", ["snow"])).toBe("snow");
  });
});

describe("labels of versions", () => {
  it("say what differs", () => {
    expect(versionLabels(["mist, golden hour", "mist, night^1.4", "mist"])).toEqual(["golden hour", "night^1.4", "as common"]);
    expect(versionLabels(["", "snow"])).toEqual(["no words", "snow"]);
  });
});
