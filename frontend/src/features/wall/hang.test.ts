import { describe, expect, it } from "vitest";
import type { WallView } from "../../api/wall";
import { inOrder, sized } from "./hang";

const hung = (id: string, kept: string, composition: number | null) => ({ take: { id, readings: { figures: { composition } } }, kept });
const wall = (order: string, takes: string[]) => ({ body: { order, takes, sizes: {}, captions: {}, title: "" }, hung: [hung("a", "2026-01-01", 80), hung("b", "2026-01-03", 95), hung("c", "2026-01-02", null)] }) as unknown as WallView;
const ids = (view: WallView) => inOrder(view).map((one) => one.take.id);

describe("inOrder", () => {
  it("by hand, what is new behind", () => expect(ids(wall("hand", ["c", "a"]))).toEqual(["c", "a", "b"]));
  it("by date, the newest first", () => expect(ids(wall("date", []))).toEqual(["b", "c", "a"]));
  it("by a reading, the highest first, what has none last", () => expect(ids(wall("composition", []))).toEqual(["b", "a", "c"]));
});

describe("sized", () => {
  const body = wall("hand", []).body as Parameters<typeof sized>[0];
  it("goes up and down by steps, back to the usual size, and no further than it may", () => {
    const up = sized(body, "a", true);
    expect(up.sizes.a).toBeCloseTo(1.25);
    expect(sized(up, "a", false).sizes.a).toBe(1);
    let small = body;
    for (let k = 0; k < 20; k++) small = sized(small, "a", false);
    expect(small.sizes.a).toBe(0.4);
  });
});
