import { describe, expect, it } from "vitest";
import { draggedSpot, nextZoom, spotOffset } from "./spot";

const picture = { width: 500, height: 300 };
const cell = { width: 100, height: 60 };

describe("spotOffset", () => {
  it("puts the spot in the middle", () => {
    expect(spotOffset({ x: 0.5, y: 0.5, zoom: 2 }, picture, cell)).toEqual({ left: 50 - 500, top: 30 - 300 });
  });
  it("leaves no gap at the rim, and centres what is smaller than its cell", () => {
    expect(spotOffset({ x: 0, y: 1, zoom: 1 }, picture, cell)).toEqual({ left: 0, top: 60 - 300 });
    expect(spotOffset({ x: 0.2, y: 0.2, zoom: 1 }, { width: 60, height: 40 }, cell)).toEqual({ left: 20, top: 10 });
  });
});

describe("draggedSpot", () => {
  it("follows the hand at every zoom and stays inside", () => {
    expect(draggedSpot({ x: 0.5, y: 0.5, zoom: 2 }, 100, 0, picture).x).toBeCloseTo(0.4);
    expect(draggedSpot({ x: 0.05, y: 0.5, zoom: 1 }, 400, -900, picture)).toEqual({ x: 0, y: 1, zoom: 1 });
  });
});

describe("nextZoom", () => {
  it("steps through the zooms and stops at both ends", () => {
    expect([nextZoom(1, true), nextZoom(2, true), nextZoom(4, true), nextZoom(1, false)]).toEqual([2, 4, 4, 1]);
  });
});
