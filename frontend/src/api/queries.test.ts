import { describe, expect, it } from "vitest";
import type { StudyView, TakeView } from "./client";
import { answered, Refusal, sourceImage, type SourceView } from "./client";
import { withTake } from "./queries";

const take = (id: string, step = 0) => ({ id, state: "running", step, steps: 10 }) as TakeView;
const study = { id: "s", sweeps: [{ id: "a", takes: [take("1"), take("2")] }, { id: "b", takes: [take("2")] }, { id: "c", takes: [take("3")] }] } as unknown as StudyView;

describe("withTake", () => {
  it("changes a take in every sweep that holds it, and leaves the others as they are", () => {
    const after = withTake(study, { id: "2", step: 7 });
    expect(after.sweeps.map((s) => s.takes.map((t) => t.step))).toEqual([[0, 7], [7], [0]]);
    expect(after.sweeps[2]).toBe(study.sweeps[2]);
    expect(study.sweeps[0]!.takes[1]!.step).toBe(0);
  });
});

describe("answered", () => {
  const response = (status: number) => new Response(null, { status });
  it("gives data", async () => {
    expect(await answered(Promise.resolve({ data: 3, response: response(200) }))).toBe(3);
  });
  it("passes the server's sentence on", async () => {
    const call = Promise.resolve({ error: { message: "Steps go from 1 to 150." }, response: response(422) });
    await expect(answered(call)).rejects.toThrow(new Refusal("Steps go from 1 to 150."));
  });
  it("says so when nobody answers", async () => {
    await expect(answered(Promise.reject(new TypeError("network")))).rejects.toThrow("does not answer");
    await expect(answered(Promise.resolve({ error: "<html>", response: response(502) }))).rejects.toThrow("does not answer");
  });
});

it("names a source's pixels by its framing", () => {
  const source = { id: "x", frame_key: "abc123" } as SourceView;
  expect(sourceImage(source, 512)).toBe("/api/sources/x/image?size=512&frame=abc123");
});
