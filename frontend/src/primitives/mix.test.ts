import { describe, expect, it } from "vitest";
import { mixRequest, shareOf, toggled, weighed, type Part } from "./mix";

const take: Part = { id: "t", kind: "take", weight: 0.6 };
const quay: Part = { id: "q", kind: "source", weight: 0.2 };

describe("what is mixed", () => {
  it("goes in and out, three at most", () => {
    const three = [take, quay, { ...quay, id: "r" }];
    expect(toggled([take], quay)).toEqual([take, quay]);
    expect(toggled(three, { ...quay, id: "s" })).toBe(three);
    expect(toggled(three, take).map((p) => p.id)).toEqual(["q", "r"]);
  });

  it("counts by the ratio of weights", () => {
    expect(shareOf([take, quay], "t")).toBeCloseTo(0.75);
    expect(shareOf(weighed([take, quay], "t", 0.2), "t")).toBeCloseTo(0.5);
    expect(shareOf([{ ...take, weight: 0 }], "t")).toBe(0);
  });

  it("is asked for with sources first, and only when two have weight", () => {
    expect(mixRequest([take, quay])).toEqual({ sources: ["q"], takes: ["t"], weights: [0.2, 0.6] });
    expect(mixRequest([take, { ...quay, weight: 0 }])).toBeNull();
    expect(mixRequest([take])).toBeNull();
  });
});
