import { describe, expect, it } from "vitest";
import { byMachine, concerns } from "./machines";

const worker = (host: string, more = {}) => ({ host, engine: "16", here: true, done: 4, pace: 2, ...more });

describe("machines", () => {
  it("hold their workers, and say how fast those are that are here", () => {
    const found = byMachine([worker("b"), worker("a"), worker("a", { pace: 1 }), worker("a", { here: false, pace: 1 }), worker("c", { pace: null })]);
    expect(found.map((m) => [m.host, m.workers.length, m.here, m.rate])).toEqual([["a", 3, 2, 90], ["b", 1, 1, 30], ["c", 1, 1, null]]);
    expect(byMachine([])).toEqual([]);
  });
  it("concern their owner only where something is wrong", () => {
    expect(concerns("16", [worker("a")], { "16": 5, "studio 1": 2 }, { studio: true })).toEqual([]);
    expect(concerns("16", [worker("a", { here: false })], { "16": 5 }, {})[0]).toContain("no worker of engine 16");
    expect(concerns("16", [worker("a"), worker("b", { engine: "15" })], {}, {})[0]).toContain("1 worker has another engine (15)");
    expect(concerns("16", [worker("a")], { "studio 1": 2, "15": 1 }, { studio: false })).toEqual(["1 takes were planned for engine 15; stop and run them again.", "2 takes wait for studio, which does not answer."]);
  });
});
