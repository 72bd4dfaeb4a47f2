import { describe, expect, it } from "vitest";
import { ALL, askedOf, isAsked, roomWords, takesWords } from "./shelf";

describe("takesWords", () => {
  it("counts what is there, what was kept, what is to come", () => {
    expect(takesWords(0, 0, 0)).toBe("no takes yet");
    expect(takesWords(1, 0, 0)).toBe("1 take");
    expect(takesWords(15, 2, 0)).toBe("15 takes, 2 kept");
    expect(takesWords(0, 0, 5)).toBe("5 to come");
    expect(takesWords(3, 1, 12)).toBe("3 takes, 1 kept, 12 to come");
  });
});

describe("roomWords", () => {
  it("says what is taken and what is free, where that is known", () => {
    expect(roomWords({ total: 9e9, free: 5.2e9, pictures: 3.4e8 })).toBe("All studies take 340 MB; 5.2 GB of the disk are free.");
    expect(roomWords({ total: null, free: null, pictures: 5000 })).toBe("All studies take 5 KB.");
  });
});

describe("askedOf", () => {
  it("asks for what is chosen, days as a date, and nothing else", () => {
    expect(askedOf(ALL, new Date("2026-12-02T10:00:00Z"))).toEqual({ find: "", archived: false, order: "touched" });
    expect(askedOf({ ...ALL, find: " oil ", kind: "photo", mark: "keep", days: "7" }, new Date("2026-12-02T10:00:00Z"))).toEqual({ find: "oil", archived: false, order: "touched", kind: "photo", mark: "keep", since: "2026-11-25" });
  });
  it("knows when something is left out", () => {
    expect([ALL, { ...ALL, find: "  " }, { ...ALL, order: "name" as const }].map(isAsked)).toEqual([false, false, false]);
    expect([{ ...ALL, find: "x" }, { ...ALL, archived: true }, { ...ALL, days: "7" }].map(isAsked)).toEqual([true, true, true]);
  });
});
