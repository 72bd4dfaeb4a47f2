import { describe, expect, it } from "vitest";
import { tideRows } from "./tide";

const take = (id: string, strength: number, seed: number, composition: number, look: number | null = 50, guidance = 5, state = "done") => ({
  id, state, recipe: { strength, seed, guidance, holds: { lines: 0.5 } }, readings: state === "done" ? { figures: { composition, look } } : null,
});
const name = (control: string, value: number | string) => `${control} ${value}`;

describe("tideRows", () => {
  it("joins seeds and orders strengths", () => {
    const takes = [take("a", 0.8, 1, 40), take("b", 0.3, 1, 90, 20), take("c", 0.3, 2, 80, null), take("d", 0.5, 1, 0, null, 5, "queued")];
    const rows = tideRows(takes, [{ control: "seed", values: [1, 2] }, { control: "strength", values: [0.3, 0.8] }], name);
    expect(rows).toHaveLength(1);
    expect(rows[0]!.points.map((p) => [p.strength, p.composition, p.look, p.takes])).toEqual([
      [0.3, 85, 20, ["b", "c"]],
      [0.8, 40, 50, ["a"]],
    ]);
  });
  it("has a line for every other value, and none without strength", () => {
    const takes = [take("a", 0.3, 1, 90, 50, 3), take("b", 0.3, 1, 80, 50, 9)];
    const spans = [{ control: "guidance", values: [3, 9] }, { control: "strength", values: [0.3] }];
    expect(tideRows(takes, spans, name).map((r) => r.name)).toEqual(["guidance 3", "guidance 9"]);
    expect(tideRows(takes, [{ control: "lines", values: [0, 1] }], name)).toEqual([]);
  });
});
