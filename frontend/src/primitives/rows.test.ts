import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { moved, rows, type Shape } from "./rows";

interface Case {
  says: string;
  shapes: [number, number][];
  width: number;
  usual: number;
  gap: number;
  below: number;
  placed: [number, number, number, number, number][];
}

/** Shared with the program that draws walls on paper: both must lay them alike. */
const CASES = JSON.parse(readFileSync("../tests/fixtures/rows.json", "utf8")) as Case[];

describe("rows", () => {
  it.each(CASES)("$says", ({ shapes, width, usual, gap, below, placed }) => {
    const found = rows(shapes.map(([aspect, size]): Shape => ({ aspect, size })), width, usual, gap, below);
    expect(found.map((p) => p.index)).toEqual(placed.map(([index]) => index));
    found.forEach((p, k) => [p.x, p.y, p.width, p.height].forEach((value, i) => expect(value).toBeCloseTo(placed[k]![i + 1]!, 3)));
  });
});

describe("moved", () => {
  it("puts one where another stands, in both directions", () => {
    expect(moved(["a", "b", "c", "d"], "a", "c")).toEqual(["b", "c", "a", "d"]);
    expect(moved(["a", "b", "c", "d"], "d", "b")).toEqual(["a", "d", "b", "c"]);
    expect(moved(["a", "b"], "a", "gone")).toEqual(["a", "b"]);
  });
});
