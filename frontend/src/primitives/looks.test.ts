import { describe, expect, it } from "vitest";
import { bandOfLook, lookBeside, lookGroups, lookSections, matches } from "./looks";

const look = (name: string, category: string, kinds = ["photo"], description = "") => ({ name, title: name.toUpperCase(), category, kinds, description });
const all = [look("learned-1", "learned"), look("oil", "painted", ["photo"], "Loaded brushes"), look("neon", "made"), look("lino", "printed", ["render"])];

describe("sections of the looks panel", () => {
  it("show favourites first, then categories, last what isn't made for the picture, each look once", () => {
    expect(lookSections(all, "photo", ["neon"]).map((s) => [s.heading, s.looks.map((l) => l.name)])).toEqual([
      ["favourites", ["neon"]],
      ["your own", ["learned-1"]],
      ["painted", ["oil"]],
      ["not made for a photo", ["lino"]],
    ]);
  });
  it("search what is said of a look, word by word", () => {
    expect(matches(all[1]!, "brush load")).toBe(true);
    expect(matches(all[1]!, "brush neon")).toBe(false);
    expect(lookSections(all, "photo", [], "printed").flatMap((s) => s.looks.map((l) => l.name))).toEqual(["lino"]);
    expect(lookSections(all, "photo", [], "nothing like it")).toEqual([]);
  });
  it("step from look to look in the order shown and stop at the ends", () => {
    const sections = lookSections(all, "photo", []);
    expect(lookBeside(sections, "learned-1", 1)).toBe("oil");
    expect(lookBeside(sections, "lino", 1)).toBe("lino");
    expect(lookBeside(sections, "unknown", 1)).toBe("learned-1");
  });
});

describe("lookGroups", () => {
  it("shows favourites, then all that are made for the kind, then the others, each once", () => {
    const groups = lookGroups(all, "photo", ["neon"]);
    expect(groups[0]!.heading).toBe("favourites");
    expect(groups[1]!.heading).toBe("made for a photo");
    const names = groups.flatMap((g) => g.looks.map((l) => l.name));
    expect(new Set(names).size).toBe(all.length);
    expect(names).toHaveLength(all.length);
  });
  it("names the band of a look by three strengths", () => {
    expect(bandOfLook([0.3, 0.7])).toEqual([0.3, 0.5, 0.7]);
  });
});
