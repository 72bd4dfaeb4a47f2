import { describe, expect, it } from "vitest";
import { nudgeOf } from "./nudge";

describe("arrow keys", () => {
  it("move by small and large steps, other keys not at all", () => {
    expect(nudgeOf({ key: "ArrowLeft", shiftKey: false })).toEqual([-0.01, 0]);
    expect(nudgeOf({ key: "ArrowDown", shiftKey: true })).toEqual([0, 0.05]);
    expect(nudgeOf({ key: "Enter", shiftKey: false })).toBeNull();
  });
});
