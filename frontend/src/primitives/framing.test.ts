import { describe, expect, it } from "vitest";
import { evenRound, placed, stretchWords } from "./framing";

const photo = { width: 6000, height: 4000 };

describe("placing a framed picture", () => {
  it("keeps its shape by default", () => {
    expect(placed(photo, {}, 512)).toMatchObject({ width: 512, height: 341, inner: { left: 0, top: 0, width: 512, height: 341 }, stretched: 1 });
    expect(placed(photo, { turn: 90 }, 512)).toMatchObject({ width: 341, height: 512 });
  });
  it("pads to a shape with ground beside the picture", () => {
    const square = placed(photo, { shape: 1 }, 600);
    expect(square).toMatchObject({ width: 600, height: 600, inner: { left: 0, top: 100, width: 600, height: 400 } });
  });
  it("stretches only when told to, and says by how much", () => {
    const square = placed(photo, { shape: 1, fit: "stretch" }, 600);
    expect(square).toMatchObject({ width: 600, height: 600, inner: { left: 0, top: 0, width: 600, height: 600 } });
    expect(stretchWords(square.stretched)).toBe("50 % taller than it was");
    expect(stretchWords(1)).toBe("");
    expect(stretchWords(1.2)).toBe("20 % wider than it was");
  });
  it("lays a smaller cut-out where it is put", () => {
    const { inner } = placed(photo, { scale: 0.5, shift_x: 0.25, shift_y: -0.5 }, 600);
    expect(inner).toEqual({ width: 300, height: 200, left: 300, top: -100 });
  });
  it("crops at whole pixels of the turned picture", () => {
    expect(placed({ width: 101, height: 51 }, { left: 0.5, bottom: 0.5 }, 100).crop).toEqual({ left: 50, top: 0, width: 51, height: 26 });
  });
  it("rounds halves as the server does", () => {
    expect([0.5, 1.5, 2.5, 2.4999].map(evenRound)).toEqual([0, 2, 2, 2]);
  });
});
