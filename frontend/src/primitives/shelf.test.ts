import { describe, expect, it } from "vitest";
import { roomWords, takesWords } from "./shelf";

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
