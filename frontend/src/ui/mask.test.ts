import { describe, expect, it } from "vitest";
import { drawMask, NOTHING, type Painting } from "./mask";

/** A canvas of a few pixels that does what a region needs of one: whole fills, and strokes as wide as they are told. */
function small(width: number, height: number) {
  let alpha = new Float32Array(width * height);
  let path: { x: number; y: number }[] = [];
  const draw = {
    globalCompositeOperation: "source-over", fillStyle: "", strokeStyle: "", lineCap: "", lineJoin: "", lineWidth: 1,
    clearRect: () => alpha.fill(0),
    fillRect: () => {
      alpha = alpha.map((a) => (draw.globalCompositeOperation === "source-out" ? 1 - a : 1));
    },
    drawImage: (kept: Float32Array) => alpha.set(kept),
    beginPath: () => (path = []),
    moveTo: (x: number, y: number) => path.push({ x, y }),
    lineTo: (x: number, y: number) => path.push({ x, y }),
    stroke: () => {
      const put = draw.globalCompositeOperation === "destination-out" ? 0 : 1;
      alpha = alpha.map((a, i) => {
        const [x, y] = [(i % width) + 0.5, Math.floor(i / width) + 0.5];
        const near = path.slice(1).some((to, k) => {
          const from = path[k]!;
          const long = (to.x - from.x) ** 2 + (to.y - from.y) ** 2 || 1;
          const t = Math.min(Math.max(((x - from.x) * (to.x - from.x) + (y - from.y) * (to.y - from.y)) / long, 0), 1);
          return Math.hypot(x - from.x - t * (to.x - from.x), y - from.y - t * (to.y - from.y)) <= draw.lineWidth / 2;
        });
        return near ? put : a;
      });
    },
  };
  return { canvas: { width, height, getContext: () => draw } as unknown as HTMLCanvasElement, draw, shown: () => [...alpha].map((a) => (a > 0.5 ? "#" : ".")).join("") };
}

function painted(painting: Painting, kept: Float32Array | null = null) {
  const { canvas, shown } = small(8, 4);
  drawMask(canvas, painting, kept as unknown as CanvasImageSource);
  return shown().match(/.{8}/g);
}

const across = { erase: false, width: 2 / 8, points: [{ x: 0.125, y: 0.5 }, { x: 0.875, y: 0.5 }] };

describe("a region as it is painted", () => {
  it("begins from nothing, from all or from what is kept", () => {
    expect(painted(NOTHING)).toEqual(["........", "........", "........", "........"]);
    expect(painted({ base: "all", steps: [] })).toEqual(["########", "########", "########", "########"]);
    const kept = new Float32Array(32).fill(1, 0, 8);
    expect(painted({ base: "kept", steps: [] }, kept)).toEqual(["########", "........", "........", "........"]);
    expect(painted({ base: "kept", steps: [] })).toEqual(["........", "........", "........", "........"]);
  });

  it("is painted as wide as the brush is, in shares of the longer side", () => {
    expect(painted({ base: "none", steps: [across] })).toEqual(["........", "########", "########", "........"]);
  });

  it("takes a single point for a dab", () => {
    const dab = { ...across, points: [{ x: 0.5, y: 0.5 }] };
    expect(painted({ base: "none", steps: [dab] })).toEqual(["........", "...##...", "...##...", "........"]);
  });

  it("never draws a line thinner than a pixel", () => {
    const { canvas, draw } = small(8, 4);
    drawMask(canvas, { base: "none", steps: [{ ...across, width: 0.001 }] }, null);
    expect(draw.lineWidth).toBe(1);
  });

  it("erases, exchanges, and does things in the order they were done", () => {
    const erased = { ...across, erase: true };
    expect(painted({ base: "all", steps: [erased] })).toEqual(["########", "........", "........", "########"]);
    expect(painted({ base: "none", steps: [across, "exchanged"] })).toEqual(["########", "........", "........", "########"]);
    expect(painted({ base: "none", steps: ["exchanged", erased] })).toEqual(painted({ base: "all", steps: [erased] }));
    expect(painted({ base: "none", steps: [across, erased] })).toEqual(painted(NOTHING));
    expect(painted({ base: "none", steps: [erased, across] })).toEqual(painted({ base: "none", steps: [across] }));
    expect(painted({ base: "none", steps: [across, "exchanged", "exchanged"] })).toEqual(painted({ base: "none", steps: [across] }));
  });
});
