import { expect, it } from "vitest";
import { place, sentences, spoken, toldOf } from "./reading";

const box = (left: number, top: number, size = 0.2) => ({ left, top, right: left + size, bottom: top + size });
const parts = { gone: 0, moved: 0, shift: 0, added: 5 };

it("says where a box lies", () => {
  const places = [box(0, 0), box(0.4, 0), box(0.8, 0), box(0, 0.4), box(0.4, 0.4), box(0.8, 0.4), box(0, 0.8), box(0.4, 0.8), box(0.8, 0.8)].map(place);
  expect(places).toEqual([
    "at the upper left", "at the top", "at the upper right", "at the left", "in the middle", "at the right",
    "at the lower left", "at the bottom", "at the lower right",
  ]);
});

it("says nothing of a take that kept everything", () => {
  expect(sentences({ figures: { composition: 100 }, parts, worst: null })).toEqual([]);
  expect(sentences({ figures: { composition: 100 }, parts, worst: { ...box(0, 0), kept: 40 } })).toEqual([]);
});

it("says what is gone, what moved and where, the gravest first", () => {
  expect(sentences({ figures: { composition: 70 }, parts: { ...parts, gone: 21.6, moved: 8, shift: 2.44 }, worst: { ...box(0.8, 0.1), kept: 31 } })).toEqual([
    "22 points of the composition are gone.",
    "What moved has moved by 2.4 % of the long side.",
    "Most was lost at the upper right: 31 kept there.",
  ]);
  expect(sentences({ figures: { composition: 12 }, parts: { ...parts, gone: 85, added: 60 } })).toEqual([
    "Most of the composition is gone.",
    "It shows much that the source doesn't.",
  ]);
});

it("bears readings of an older version, without parts", () => {
  expect(sentences({ figures: { composition: 50 }, parts: {} })).toEqual([]);
});

it("offers only readings that some take has a figure for, and says those that it has", () => {
  const kinds = [{ name: "composition" }, { name: "look" }, { name: "faces" }];
  const takes = [{ readings: null }, { readings: { figures: { composition: 80.6, look: null, faces: null } } }, { readings: { figures: { composition: 70, look: 40, faces: null } } }];
  expect(toldOf(kinds, takes)).toEqual([{ name: "composition" }, { name: "look" }]);
  expect(spoken(takes[1]!.readings!.figures, kinds)).toBe("composition 81");
});
