import { describe, expect, it } from "vitest";
import { arrange, placeOf, takeBeside, takesBetween, worth } from "./arrange";

const spans = [
  { control: "look", values: ["oil", "neon"] },
  { control: "seed", values: [7, 8] },
  { control: "strength", values: [0.3, 0.6, 0.9] },
];
const takes = Array.from({ length: 12 }, (_, k) => ({ id: `t${k}`, state: "done", readings: { figures: { composition: 90 - k, colour: 50, look: 10 * (k % 6) } } }));
const all = () => true;

describe("arrange", () => {
  it("knows a take's place along the spans", () => {
    expect(placeOf(0, spans)).toEqual([0, 0, 0]);
    expect(placeOf(7, spans)).toEqual([1, 0, 1]);
    expect(placeOf(3, [])).toEqual([]);
  });
  it("shows one page of three axes as a matrix", () => {
    const found = arrange(takes, spans, 1, "axes", all);
    expect(found.kind).toBe("matrix");
    expect(found.cells.map((c) => [c.take.id, c.row, c.column])).toEqual([["t6", 0, 0], ["t7", 0, 1], ["t8", 0, 2], ["t9", 1, 0], ["t10", 1, 1], ["t11", 1, 2]]);
    expect(found.pages?.control).toBe("look");
  });
  it("turns a matrix, and arrows go along what is seen", () => {
    const found = arrange(takes, spans, 1, "axes", all, true);
    const plain = arrange(takes, spans, 1, "axes", all);
    expect([found.rows, found.columns]).toEqual([plain.columns, plain.rows]);
    expect(found.cells.map((c) => [c.row, c.column])).toEqual(plain.cells.map((c) => [c.column, c.row]));
    expect(takeBeside(found, 2, "t6", 1, 0)?.id).toBe("t9");
    expect(takeBeside(found, 2, "t6", 0, 1)?.id).toBe("t7");
  });
  it("leaves holes where takes are hidden, and closes up when sorted", () => {
    const even = (t: { id: string }) => Number(t.id.slice(1)) % 2 === 0;
    expect(arrange(takes, spans, 0, "axes", even).cells.map((c) => c.column)).toEqual([0, 2, 1]);
    const sorted = arrange(takes, spans, 0, "look", even);
    expect(sorted.kind).toBe("run");
    expect(sorted.cells.map((c) => c.take.id)).toEqual(["t4", "t10", "t2", "t8", "t0", "t6"]);
  });
  it("puts what is not read last, and weighs both readings together", () => {
    expect(worth({ id: "a", state: "queued", readings: null }, "both")).toBe(-1);
    const [kept, reached, both] = [[100, 4], [9, 100], [60, 60]].map(([composition, look]) => worth({ id: "", state: "done", readings: { figures: { composition: composition!, colour: 0, look: look! } } }, "both"));
    expect(both).toBeGreaterThan(kept!);
    expect(both).toBeGreaterThan(reached!);
  });
  it("moves along the axes over holes, and row by row in a run", () => {
    const hidden = arrange(takes, spans, 0, "axes", (t) => t.id !== "t1");
    expect(takeBeside(hidden, 3, "t0", 1, 0)?.id).toBe("t2");
    expect(takeBeside(hidden, 3, "t2", 0, 1)?.id).toBe("t5");
    expect(takeBeside(hidden, 3, "t2", 1, 0)).toBeUndefined();
    expect(takeBeside(hidden, 3, undefined, 1, 0)?.id).toBe("t0");
    const run = arrange(takes.slice(0, 5), spans.slice(2), 0, "axes", all);
    expect(takeBeside(run, 2, "t1", 0, 1)?.id).toBe("t3");
  });
  it("selects the rectangle between two cells, or the stretch of a run", () => {
    const page = arrange(takes, spans, 0, "axes", all);
    expect(takesBetween(page, "t1", "t5")).toEqual(["t1", "t2", "t4", "t5"]);
    expect(takesBetween(page, "t5", "t1")).toEqual(["t1", "t2", "t4", "t5"]);
    expect(takesBetween(arrange(takes, spans, 0, "composition", all), "t2", "t0")).toEqual(["t0", "t1", "t2"]);
    expect(takesBetween(page, "gone", "t3")).toEqual(["t3"]);
  });
});
