import { describe, expect, it } from "vitest";
import { changedFrom } from "./differs";

const begin = { steps: 20, avoid: "", second_look: null, holds: { lines: 0.7, shapes: 0.5 } };
const names = ["steps", "avoid", "second_look", "lines", "shapes", "depth"];

describe("changedFrom", () => {
  it("names what is not as it began, holds too, in the order asked for", () => {
    const now = { ...begin, steps: 40, holds: { lines: 0.2, shapes: 0.5 } };
    expect(changedFrom(begin, now, names)).toEqual(["steps", "lines"]);
  });
  it("takes empty, null and missing for the same", () => {
    expect(changedFrom(begin, { steps: 20, second_look: undefined, holds: { lines: 0.7, shapes: 0.5 } }, names)).toEqual([]);
  });
  it("names a hold that the beginning does not know", () => {
    expect(changedFrom(begin, { ...begin, holds: { ...begin.holds, depth: 0.7 } }, names)).toEqual(["depth"]);
  });
});
