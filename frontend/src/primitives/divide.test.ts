import { describe, expect, it } from "vitest";
import { before, clipOf, middleOf, throughPoint, turnedTo } from "./divide";

const size = { width: 300, height: 200 };
const area = (polygon: [number, number][]) =>
  Math.abs(polygon.reduce((sum, [x, y], i) => sum + x * polygon[(i + 1) % polygon.length]![1] - polygon[(i + 1) % polygon.length]![0] * y, 0)) / 2;

describe("a divider", () => {
  it("cuts left from right, top from bottom, and corner from corner", () => {
    expect(area(before({ at: 0.25, angle: 0 }, size))).toBeCloseTo(0.25 * 60000);
    expect(area(before({ at: 0.25, angle: 90 }, size))).toBeCloseTo(0.25 * 60000);
    for (let angle = -170; angle < 180; angle += 17) expect(area(before({ at: 0.5, angle }, size))).toBeCloseTo(30000);
  });
  it("shows nothing or all at its ends", () => {
    expect(area(before({ at: 1, angle: 30 }, size))).toBeCloseTo(60000);
    expect(area(before({ at: 0, angle: 30 }, size))).toBeCloseTo(0);
    expect(clipOf([], size)).toBe("inset(0 100% 0 0)");
    expect(clipOf([[0, 0], [150, 0], [150, 200]], size)).toBe("polygon(0.000% 0.000%, 50.000% 0.000%, 50.000% 100.000%)");
  });
  it("runs through the point where the hand is", () => {
    for (const angle of [0, 33, 90, -45]) {
      const moved = throughPoint({ at: 0.5, angle }, size, 200, 120);
      const [x, y] = middleOf(moved, size);
      const radians = (angle * Math.PI) / 180;
      expect((200 - x) * Math.cos(radians) + (120 - y) * Math.sin(radians)).toBeCloseTo(0);
    }
    expect(throughPoint({ at: 0.5, angle: 0 }, size, 900, 0).at).toBe(1);
  });
  it("turns to the hand and keeps its place and its sides", () => {
    const turned = turnedTo({ at: 0.5, angle: 0 }, size, 250, 100);
    expect(turned.angle).toBe(90);
    const tilted = turnedTo({ at: 0.5, angle: 0 }, size, 170, 10);
    expect(Math.abs(tilted.angle)).toBeLessThan(20);
    expect(tilted.at).toBeCloseTo(0.5);
  });
});
