import { describe, expect, it } from "vitest";
import type { Framing, SourceView } from "./client";
import { holdOverlay, lookPreview, recolouredFraming, recolouredPreview, resampledDetail } from "./insight";

const source = { id: "s1", frame_key: "f2", kind: "flat art", has_depth: true, faces_key: "k3" } as unknown as SourceView;
const framing = { turn: 90, recolour: [] } as unknown as Framing;
const asked = (address: string) => new URL(address, "http://quay").searchParams;

describe("addresses of what is told about a source", () => {
  it("change with everything that decides what they show", () => {
    const lines = asked(holdOverlay(source, "lines"));
    expect(Object.fromEntries(lines)).toEqual({ size: "512", frame: "f2" });
    expect(asked(holdOverlay(source, "depth")).get("guide")).toBe("true");
    expect(asked(holdOverlay(source, "faces")).get("marks")).toBe("k3");
    expect(holdOverlay({ ...source, frame_key: "f9" }, "lines")).not.toBe(holdOverlay(source, "lines"));
    expect(holdOverlay({ ...source, faces_key: "k9" } as SourceView, "lines")).toBe(holdOverlay(source, "lines"));
  });

  it("carry kinds of two words and whole framings unharmed", () => {
    const preview = lookPreview(source, "soft-toon", "13");
    expect(preview.startsWith("/api/sources/s1/looks/soft-toon/preview?")).toBe(true);
    expect(Object.fromEntries(asked(preview))).toEqual({ frame: "f2", engine: "13", kind: "flat art" });
    const detail = asked(resampledDetail(source, framing, 640, 1 / 3, 0.5));
    expect([detail.get("x"), detail.get("y"), detail.get("size")]).toEqual(["0.333", "0.500", "640"]);
    expect(JSON.parse(detail.get("as")!)).toEqual(framing);
    expect(JSON.parse(asked(recolouredPreview(source, framing, 256)).get("as")!)).toEqual(framing);
  });
});

describe("parts in other colours", () => {
  it("names those that changed and no others", () => {
    const parts = [
      { colour: "#ff0000", now: "#00ff00" },
      { colour: "#0000ff", now: "#0000ff" },
    ];
    expect(recolouredFraming(framing, parts)).toEqual({ turn: 90, recolour: [{ part: "#ff0000", now: "#00ff00" }] });
    expect(recolouredFraming({ ...framing, recolour: [{ part: "#111111", now: "#222222" }] }, []).recolour).toEqual([]);
  });
});
