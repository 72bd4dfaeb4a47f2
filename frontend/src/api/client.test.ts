import { describe, expect, it } from "vitest";
import { Refusal, UNREACHABLE, answered, sourceImage, takeHeat } from "./client";
import type { SourceView } from "./client";

const answer = (status: number, error?: unknown, data?: unknown) =>
  Promise.resolve({ data, error, response: new Response(status === 204 ? null : "", { status }) });

describe("answered", () => {
  it("gives the data of an answer", async () => {
    await expect(answered(answer(200, undefined, { id: "a" }))).resolves.toEqual({ id: "a" });
    await expect(answered(answer(204))).resolves.toBeUndefined();
  });
  it("refuses in the server's own sentence", async () => {
    const said = "The file is a film; a picture is wanted.";
    await expect(answered(answer(415, { message: said }))).rejects.toThrow(said);
    await expect(answered(answer(415, { message: said }))).rejects.toBeInstanceOf(Refusal);
  });
  it("never shows what is no sentence for the artist", async () => {
    for (const error of [undefined, "<html>", { message: 500 }, { detail: [{ loc: ["body"] }] }]) {
      await expect(answered(answer(500, error))).rejects.toThrow(UNREACHABLE);
    }
  });
  it("says so where nothing answers", async () => {
    await expect(answered(Promise.reject(new TypeError("Failed to fetch")))).rejects.toThrow(UNREACHABLE);
  });
});

describe("addresses", () => {
  it("change with what they show, so that nothing old is seen", () => {
    const source = { id: "s", frame_key: "one" } as SourceView;
    expect(sourceImage(source, 640)).not.toBe(sourceImage({ ...source, frame_key: "two" }, 640));
    expect(sourceImage(source, 640)).not.toBe(sourceImage(source, 320));
    expect(takeHeat("t", 3)).not.toBe(takeHeat("t", 4));
  });
});
