import { describe, expect, it } from "vitest";
import { levels, walked, type Placed } from "./walk";

const NODES: Placed[] = [
  { id: "source", x: 0, y: 50, parents: [] },
  { id: "sweep", x: 100, y: 20, parents: ["source"] },
  { id: "other", x: 100, y: 90, parents: ["source"] },
  { id: "take", x: 200, y: 20, parents: ["sweep"] },
  { id: "mix", x: 300, y: 60, parents: ["other", "take"] },
];

describe("walked", () => {
  it("goes back to what it came from, on to what came of it, nearest first", () => {
    expect(walked(NODES, "take", "back")).toBe("sweep");
    expect(walked(NODES, "mix", "back")).toBe("other");
    expect(walked(NODES, "source", "on")).toBe("sweep");
  });
  it("goes up and down in a column and stays where there is nothing", () => {
    expect(walked(NODES, "other", "up")).toBe("sweep");
    expect(walked(NODES, "sweep", "down")).toBe("other");
    expect(walked(NODES, "sweep", "up")).toBe("sweep");
    expect(walked(NODES, "source", "back")).toBe("source");
  });
  it("begins at the first, also from a node that is gone", () => {
    expect(walked(NODES, null, "on")).toBe("source");
    expect(walked(NODES, "gone", "down")).toBe("source");
    expect(walked(NODES, "take", "last")).toBe("mix");
    expect(walked([], null, "first")).toBeNull();
  });
});

describe("levels", () => {
  it("counts along the first parent and ends in a circle", () => {
    expect([...levels(NODES).values()]).toEqual([1, 2, 2, 3, 3]);
    expect(levels([{ id: "a", x: 0, y: 0, parents: ["b"] }, { id: "b", x: 0, y: 0, parents: ["a"] }]).size).toBe(2);
  });
});
