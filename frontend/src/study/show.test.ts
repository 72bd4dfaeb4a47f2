import { describe, expect, it } from "vitest";
import { isShown } from "./show";

describe("takes that are shown", () => {
  const marks = ["keep", "maybe", "drop", null, undefined] as const;
  it("are all, all but the dropped, or the kept", () => {
    expect(marks.map((m) => isShown("all", m))).toEqual([true, true, true, true, true]);
    expect(marks.map((m) => isShown("undropped", m))).toEqual([true, true, false, true, true]);
    expect(marks.map((m) => isShown("kept", m))).toEqual([true, true, false, false, false]);
  });
});
