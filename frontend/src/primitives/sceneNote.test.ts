import { describe, expect, it } from "vitest";
import { LOOSE, sceneNote, shinesThrough } from "./sceneNote";

const lake = { title: "lake with mountains", way: "over" as const, begins: 0.45, whole: 0.95 };

describe("sceneNote", () => {
  it("says that little shows below the strength where it begins", () => {
    expect(sceneNote(lake, 0.5, 0)).toContain("At 0.50 hardly any of it shows.");
    expect(sceneNote(lake, 0.8, 0)).toBe("Lake with mountains takes over from strength 0.45 and is whole from 0.95.");
  });
  it("says that holds keep the source in it", () => {
    expect(sceneNote(lake, 0.8, 0.7)).toContain("keep the source in it");
    expect(shinesThrough(lake, 0.8, 0.7)).toBe(true);
    expect(shinesThrough(lake, 0.5, 0.7)).toBe(false);
    expect(shinesThrough({ ...lake, way: "behind" }, 0.8, 0.7)).toBe(false);
    expect(shinesThrough(lake, 0.8, Math.max(LOOSE.lines, LOOSE.shapes))).toBe(false);
  });
  it("lies around a building", () => {
    expect(sceneNote({ ...lake, way: "around" }, 0.3, 0.7)).toBe("Lake with mountains lies around the building, whose edges stay.");
    expect(shinesThrough({ ...lake, way: "around" }, 0.8, 0.7)).toBe(false);
    expect(sceneNote({ ...lake, title: "", way: "none" }, 0.3, 0.7)).toBe("");
  });
  it("stands behind flat art", () => {
    expect(sceneNote({ ...lake, way: "behind" }, 0.3, 0.7)).toBe("Lake with mountains stands behind the subject, whose shape stays.");
  });
});
