import { afterEach, describe, expect, it, vi } from "vitest";
import type { Recipe } from "../../api/client";
import { fetchShot } from "./useLive";

const wanted = { key: "a", sourceId: "quay", recipe: { strength: 0.4, quality: "full" } as Recipe };
const figures = { figures: { composition: 81, colour: 70, look: null }, warnings: [], seconds: 0.05 };

function answering(answer: Partial<Response>) {
  const fetch = vi.fn<(path: string, asked: { body: string }) => Promise<Response>>(() => Promise.resolve(answer as Response));
  vi.stubGlobal("fetch", fetch);
  vi.stubGlobal("URL", { createObjectURL: (blob: { size: number }) => `blob:${blob.size}` });
  return fetch;
}

describe("one draft of a recipe", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("is asked for in the quality wanted, whatever the recipe's own", async () => {
    const fetch = answering({ ok: true, headers: new Headers(), blob: () => Promise.resolve({ size: 7 } as Blob) });
    await fetchShot(wanted, "glimpse");
    const [path, asked] = fetch.mock.calls[0]!;
    expect(path).toBe("/api/live");
    expect(JSON.parse(asked.body)).toEqual({ source_id: "quay", recipe: { strength: 0.4, quality: "glimpse" } });
    expect(wanted.recipe.quality).toBe("full");
  });

  it("brings its picture, its readings and how long it took", async () => {
    answering({ ok: true, headers: new Headers({ "Warm-Tide-Readings": JSON.stringify(figures) }), blob: () => Promise.resolve({ size: 7 } as Blob) });
    const { shot, spent } = await fetchShot(wanted, "draft");
    expect(shot).toEqual({ url: "blob:7", figures });
    expect(spent).toBeGreaterThanOrEqual(0);
  });

  it("says what the server says of a fault", async () => {
    answering({ ok: false, json: () => Promise.resolve({ message: "Strength goes from 0 to 1." }) });
    await expect(fetchShot(wanted, "draft")).rejects.toThrow("Strength goes from 0 to 1.");
  });

  it("has a sentence of its own where the server has none", async () => {
    answering({ ok: false, json: () => Promise.reject(new SyntaxError("no JSON")) });
    await expect(fetchShot(wanted, "draft")).rejects.toThrow("The draft could not be drawn.");
    answering({ ok: false, json: () => Promise.resolve({}) });
    await expect(fetchShot(wanted, "draft")).rejects.toThrow("The draft could not be drawn.");
  });
});
