import { beforeAll, describe, expect, it, vi } from "vitest";
import type { Framing } from "../../api/client";
import { placed } from "../../primitives/framing";
import { AS_IT_CAME } from "./choices";
import { drawFramed, drawResult } from "./draw";

/** A context that keeps what it is told to draw: where the picture's corners come to lie, and what clips it. */
function recorder() {
  let m = [1, 0, 0, 1, 0, 0];
  const seen = { corners: [] as { x: number; y: number }[], clip: [0, 0, 0, 0], ground: [0, 0, 0, 0], colour: "" };
  const by = (a: number, b: number, c: number, d: number, e: number, f: number) => {
    const [p = 0, q = 0, r = 0, s = 0, t = 0, u = 0] = m;
    m = [p * a + r * b, q * a + s * b, p * c + r * d, q * c + s * d, p * e + r * f + t, q * e + s * f + u];
  };
  const at = (x: number, y: number) => ({ x: m[0]! * x + m[2]! * y + m[4]!, y: m[1]! * x + m[3]! * y + m[5]! });
  const context = {
    fillStyle: "",
    fillRect: (...rect: number[]) => {
      seen.ground = rect;
      seen.colour = context.fillStyle;
    },
    rect: (...rect: number[]) => (seen.clip = rect),
    save: () => undefined, restore: () => undefined, beginPath: () => undefined, clip: () => undefined,
    translate: (x: number, y: number) => by(1, 0, 0, 1, x, y),
    scale: (x: number, y: number) => by(x, 0, 0, y, 0, 0),
    rotate: (a: number) => by(Math.cos(a), Math.sin(a), -Math.sin(a), Math.cos(a), 0, 0),
    drawImage: (_image: unknown, x: number, y: number, w: number, h: number) =>
      (seen.corners = [at(x, y), at(x + w, y), at(x + w, y + h), at(x, y + h)]),
  };
  const canvas = { width: 0, height: 0, getContext: () => context } as unknown as HTMLCanvasElement;
  return { canvas, seen };
}

const image = {} as HTMLImageElement;
const original = { width: 300, height: 200 };
const framed = (change: Partial<Framing>): Framing => ({ ...AS_IT_CAME, ...change });

/** Corners on whole pixels; there is no zero below zero. */
const whole = (corners: { x: number; y: number }[]) => corners.map(({ x, y }) => [Math.round(x) + 0, Math.round(y) + 0]);

/** Where the picture's own corners lie: top left, top right, bottom right, bottom left. */
function cornersOf(framing: Framing, size = 300) {
  const { canvas, seen } = recorder();
  drawResult(canvas, image, framing, original, size);
  return { ...seen, canvas, corners: whole(seen.corners) };
}

describe("a framed picture on a canvas", () => {
  beforeAll(() => vi.stubGlobal("window", { devicePixelRatio: 3 }));

  it("lies as it came where nothing is changed", () => {
    const { corners, canvas, colour } = cornersOf(framed({ ground: "#203040" }));
    expect([canvas.width, canvas.height]).toEqual([300, 200]);
    expect(corners).toEqual([[0, 0], [300, 0], [300, 200], [0, 200]]);
    expect(colour).toBe("#203040");
  });

  it("turns clockwise by quarters", () => {
    expect(cornersOf(framed({ turn: 90 })).corners).toEqual([[200, 0], [200, 300], [0, 300], [0, 0]]);
    expect(cornersOf(framed({ turn: 180 })).corners).toEqual([[300, 200], [0, 200], [0, 0], [300, 0]]);
    expect(cornersOf(framed({ turn: 270 })).corners).toEqual([[0, 300], [0, 0], [200, 0], [200, 300]]);
  });

  it("flips left to right after it is turned", () => {
    expect(cornersOf(framed({ flip: true })).corners).toEqual([[300, 0], [0, 0], [0, 200], [300, 200]]);
    expect(cornersOf(framed({ flip: true, turn: 90 })).corners).toEqual([[0, 0], [0, 300], [200, 300], [200, 0]]);
  });

  it("straightens about the middle, against the clock", () => {
    const { corners } = cornersOf(framed({ straighten: 90 }));
    // A quarter about the middle of 300 x 200: it reaches over the upper and lower edges.
    expect(corners).toEqual([[50, 250], [50, -50], [250, -50], [250, 250]]);
  });

  it("brings a crop to the whole canvas, whatever the size", () => {
    const { corners, clip, canvas } = cornersOf(framed({ left: 0.5, top: 0.5 }), 600);
    expect([canvas.width, canvas.height]).toEqual([600, 400]);
    expect(clip).toEqual([0, 0, 600, 400]);
    expect(corners).toEqual([[-600, -400], [600, -400], [600, 400], [-600, 400]]);
  });

  it("keeps the picture within its place where ground lies beside it", () => {
    for (const change of [{ shape: 1 }, { margin: 0.2 }, { scale: 0.5, shift_x: 0.1 }, { shape: 2, fit: "stretch" as const }]) {
      const framing = framed(change);
      const { clip, corners, ground, canvas } = cornersOf(framing);
      const { inner, width, height } = placed(original, framing, 300);
      expect([canvas.width, canvas.height]).toEqual([width, height]);
      expect(ground).toEqual([0, 0, width, height]);
      expect(clip).toEqual([inner.left, inner.top, inner.width, inner.height]);
      expect(corners[0]).toEqual([inner.left, inner.top]);
      expect(corners[2]).toEqual([inner.left + inner.width, inner.top + inner.height]);
    }
  });

  it("is as dense as the screen, twice at most", () => {
    const { canvas, seen } = recorder();
    drawFramed(canvas, image, framed({ turn: 90 }), 100, 150);
    expect([canvas.width, canvas.height]).toEqual([200, 300]);
    expect(whole(seen.corners)).toEqual([[200, 0], [200, 300], [0, 300], [0, 0]]);
  });

  it("draws nothing on a canvas that gives no context", () => {
    const canvas = { getContext: () => null } as unknown as HTMLCanvasElement;
    expect(() => drawResult(canvas, image, AS_IT_CAME, original, 64)).not.toThrow();
  });
});
