import { describe, expect, it } from "vitest";
import { addArea, addPoint, changeArea, emptyBlockIn, moveArea, movePoint, orderArea, readSvg, removeArea, shapeOf, writeSvg, type AreaKind } from "./blockin";

const kinds: AreaKind[] = ["land", "hill", "disc", "box", "polygon"];
const full = kinds.slice(1).reduce(addArea, emptyBlockIn());

describe("a block-in as SVG", () => {
  it("is read back as it was written, and is plain SVG", () => {
    const svg = writeSvg(full);
    expect(readSvg(svg)).toEqual(full);
    expect(svg).toContain('viewBox="0 0 1152 768"');
    for (const name of ["rect", "path", "ellipse", "polygon", "linearGradient"]) expect(svg).toContain(`<${name}`);
    expect(svg).not.toMatch(/NaN|undefined/);
  });
  it("leaves other SVGs alone", () => {
    expect(readSvg('<svg xmlns="http://www.w3.org/2000/svg"/>')).toBeNull();
    expect(readSvg(writeSvg(full).replace('"areas":[', '"areas":[{'))).toBeNull();
  });
});

describe("areas", () => {
  it("have names of their own and stand in front of what was there", () => {
    expect(full.areas.map((a) => a.id)).toEqual([1, 2, 3, 4, 5]);
    expect(addArea(removeArea(full, 2), "box").areas.at(-1)!.id).toBe(6);
  });
  it("move, land only up and down", () => {
    expect(moveArea(full, 1, 0.2, 0.1).areas[0]!.points).toEqual([[0.5, 0.72]]);
    expect(moveArea(full, 4, 0.1, 0).areas[3]!.points[0]).toEqual([0.44, 0.42]);
    expect(moveArea(full, 99, 1, 1)).toBe(full);
  });
  it("let one corner be put elsewhere, within reach of the canvas", () => {
    expect(movePoint(full, 5, 0, -9, 0.5).areas[4]!.points[0]).toEqual([-0.5, 0.5]);
    expect(movePoint(full, 1, 0, 0.9, 0.3).areas[0]!.points[0]).toEqual([0.5, 0.3]);
  });
  it("change their order", () => {
    expect(orderArea(full, 5, -1).areas.map((a) => a.id)).toEqual([1, 2, 3, 5, 4]);
    expect(orderArea(full, 5, 1)).toBe(full);
  });
  it("grow a corner on the longest side of a polygon only", () => {
    expect(addPoint(full, 5).areas[4]!.points).toHaveLength(5);
    expect(addPoint(full, 4)).toBe(full);
  });
  it("draw a box and a disc whichever way they were pulled", () => {
    const turned = changeArea(full, 4, { points: [[0.5, 0.7], [0.25, 0.5]] }).areas[3]!;
    expect(shapeOf(turned, 100, 100).attributes).toEqual({ x: 25, y: 50, width: 25, height: 20 });
    const disc = { ...turned, kind: "disc" as const };
    expect(shapeOf(disc, 100, 100).attributes).toMatchObject({ rx: 12.5, ry: 10 });
  });
});
