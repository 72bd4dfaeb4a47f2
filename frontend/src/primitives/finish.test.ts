import { describe, expect, it } from "vitest";
import { asDpi, lengthOf, nodesOf, onPaper, pixelsOf, readOf, recoloured, sizedTo, withNodes, writeOf } from "./finish";

describe("sizes on paper", () => {
  it("go to pixels and back", () => {
    expect(pixelsOf(42, "cm", 300)).toBe(4961);
    expect(pixelsOf(10, "inch", 300)).toBe(3000);
    expect(lengthOf(3000, "inch", 300)).toBe(10);
    expect(lengthOf(4961, "cm", 300)).toBeCloseTo(42, 1);
    expect(onPaper(4961, 3508, 300)).toBe("42.0 \u00d7 29.7 cm at 300 dpi");
  });
  it("have dots per inch within reach", () => {
    expect([0, 299.6, 9999].map(asDpi)).toEqual([36, 300, 2400]);
  });
  it("keep a picture's shape", () => {
    expect(sizedTo(512, 341, 2048)).toEqual({ width: 2048, height: 1364 });
    expect(sizedTo(10, 2000, 100)).toEqual({ width: 1, height: 100 });
  });
});

describe("pictures in an address", () => {
  it("are read as written, and nothing else is", () => {
    const of = [{ kind: "take", id: "a" }, { kind: "source", id: "b" }] as const;
    expect(readOf(writeOf([...of]))).toEqual(of);
    expect(readOf("dog:a,take:,take")).toEqual([]);
    expect(readOf(null)).toEqual([]);
  });
});

describe("traced paths", () => {
  const svg = '<svg><g fill="#112233"><path d="M0 0L10 0C11 1 12 2 13 -3.5Z"/></g></svg>';
  it("end their pieces at nodes", () => {
    expect(nodesOf("M0 0L10 0C11 1 12 2 13 -3.5Z")).toEqual([[0, 0], [10, 0], [13, -3.5]]);
    expect(withNodes(svg, 2).match(/<circle/g)).toHaveLength(3);
  });
  it("take other colours", () => {
    expect(recoloured(svg, { "#112233": "#ff0000" })).toContain('fill="#ff0000"');
    expect(recoloured(svg, { "#aabbcc": "#ff0000" })).toBe(svg);
  });
});
