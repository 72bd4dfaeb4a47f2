import { describe, expect, it } from "vitest";
import type { Choices, Recipe, StudyView, SweepView } from "../../api/client";
import { findable, sweepWords } from "./History";

const choices = { engines: [], looks: [{ name: "ink-comic", title: "Ink comic" }, { name: "oil", title: "Oil" }] } as unknown as Choices;
const recipe = { look: "oil", prompt: "mist", avoid: "noise", strength: 0.5, seed: 7 } as Recipe;
const sweep = (spans: SweepView["spans"], takes = ["t1"]): SweepView =>
  ({ id: "s", source_id: "a", recipe, spans, created: "2026-11-25T15:00:00Z", paused: false, takes: takes.map((id) => ({ id })) }) as SweepView;
const study = { sources: [{ id: "a", name: "quay.jpg" }], marks: [{ take_id: "t1", value: "keep", note: "The lamps read." }] } as StudyView;

describe("a sweep in words", () => {
  it("names the look and the axes, columns first, and the strength that all share", () => {
    expect(sweepWords(sweep([]), choices)).toBe("Oil, strength 0.50");
    expect(sweepWords(sweep([{ control: "seed", values: [1, 2] }, { control: "strength", values: [0.3, 0.6] }]), choices)).toBe("Oil: strength by seed");
    expect(sweepWords(sweep([{ control: "look", values: ["oil", "ink-comic"] }], ["t1", "t2"]), choices)).toBe("2 looks, strength 0.50");
  });
  it("is found by look, words, seed, source, mark and note", () => {
    const text = findable(sweep([{ control: "look", values: ["oil", "ink-comic"] }, { control: "seed", values: [41, 42] }]), choices, study);
    for (const word of ["ink comic", "mist", "noise", "seed 42", "quay.jpg", "keep", "lamps", "25"]) expect(text).toContain(word);
    expect(text).not.toContain("seed 7");
  });
});
