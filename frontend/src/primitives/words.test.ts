import { expect, it } from "vitest";
import { counted, disk, duration } from "./words";

it("says durations", () => {
  expect([0.2, 8.4, 95, 4000].map(duration)).toEqual(["under 1 s", "8 s", "1 min 35 s", "1 h 6 min"]);
});
it("says sizes", () => {
  expect([300, 890418, 2.5e7, 3e9].map(disk)).toEqual(["1 KB", "890 KB", "25 MB", "3.0 GB"]);
});
it("counts", () => {
  expect([counted(1, "take"), counted(0, "take")]).toEqual(["1 take", "0 takes"]);
});
