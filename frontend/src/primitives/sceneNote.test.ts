import { describe, expect, it } from "vitest";
import { sceneNote } from "./sceneNote";

const lake = { title: "lake with mountains", behind: false, begins: 0.45, whole: 0.95 };

describe("sceneNote", () => {
  it("says that little shows below the strength where it begins", () => {
    expect(sceneNote(lake, 0.5, 0)).toContain("At 0.50 hardly any of it shows.");
    expect(sceneNote(lake, 0.8, 0)).toBe("Lake with mountains takes over from strength 0.45 and is whole from 0.95.");
  });
  it("says that holds keep the source in it", () => {
    expect(sceneNote(lake, 0.8, 0.7)).toContain("loosen them");
  });
  it("stands behind flat art", () => {
    expect(sceneNote({ ...lake, behind: true }, 0.3, 0.7)).toBe("Lake with mountains stands behind the subject, whose shape stays.");
  });
});
