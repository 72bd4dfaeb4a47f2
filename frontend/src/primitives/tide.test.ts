import { describe, expect, it } from "vitest";
import { alongColumns, picturesAlong, tideRows } from "./tide";

const take = (id: string, strength: number, seed: number, composition: number, guidance = 5) => ({
  id,
  state: "done",
  recipe: { strength, seed, guidance, holds: {} },
  readings: { figures: { composition, look: 50 } },
});

describe("tideRows", () => {
  const spans = [{ control: "guidance", values: [3, 9] }, { control: "seed", values: [1, 2] }, { control: "strength", values: [0.2, 0.8] }];

  it("is one line a row of the sheet, points by rising strength", () => {
    const takes = [take("b", 0.8, 1, 60, 3), take("a", 0.2, 1, 100, 3), take("c", 0.2, 2, 90, 3), take("d", 0.2, 1, 80, 9)];
    const rows = tideRows(takes, spans, (control, value) => `${control} ${value}`);
    expect(rows.map((r) => r.name)).toEqual(["guidance 3, seed 1", "guidance 3, seed 2", "guidance 9, seed 1"]);
    expect(rows[0]!.points.map((p) => p.take)).toEqual(["a", "b"]);
    expect(rows[0]!.points[1]).toMatchObject({ strength: 0.8, composition: 60, look: 50 });
  });
  it("leaves out what is not read, and sweeps without strength", () => {
    const waits = { ...take("e", 0.5, 1, 0, 3), state: "queued" };
    expect(tideRows([waits], spans, String)).toEqual([]);
    expect(tideRows([take("a", 0.2, 1, 100)], [{ control: "seed", values: [1] }], String)).toEqual([]);
  });
});

describe("alongColumns", () => {
  const axis = alongColumns([0.2, 0.4, 1], [100, 200, 300]);
  it("puts every value under its column, however far apart the values are", () => {
    expect([0.2, 0.4, 1].map(axis.place)).toEqual([100, 200, 300]);
    expect(axis.place(0.3)).toBeCloseTo(150);
    expect(axis.place(0.7)).toBeCloseTo(250);
  });
  it("reads a place back, and stays within its ends", () => {
    expect(axis.value(axis.place(0.55))).toBeCloseTo(0.55);
    expect([axis.value(0), axis.value(999)]).toEqual([0.2, 1]);
  });
  it("follows columns that run the other way", () => {
    const turned = alongColumns([1, 0.2], [100, 200]);
    expect(turned.place(0.2)).toBe(200);
    expect(turned.value(150)).toBeCloseTo(0.6);
  });
});

describe("picturesAlong", () => {
  it("is as wide as wanted where there is room, narrower where not", () => {
    expect(picturesAlong([100, 200, 300], 56, 40, 2)).toEqual({ width: 56, shown: [true, true, true] });
    expect(picturesAlong([100, 150, 200], 56, 40, 2)).toEqual({ width: 48, shown: [true, true, true] });
  });
  it("leaves out those that would lie over another", () => {
    const { width, shown } = picturesAlong([100, 120, 145, 300], 56, 40, 2);
    expect(width).toBe(40);
    expect(shown).toEqual([true, false, true, true]);
  });
});
