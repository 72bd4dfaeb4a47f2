import { describe, expect, it } from "vitest";
import { inside } from "./inside";

const utf8 = new TextEncoder();
const joined = (...parts: (string | number[])[]) => new Uint8Array(parts.flatMap((part) => (typeof part === "string" ? [...utf8.encode(part)] : part)));
const KEPT = { recipe: { look: "oil", prompt: 'lamps "lit" & <mist>, naïve' }, key: "ab", source: "quay.png" };

describe("what a picture carries", () => {
  it("is read from a PNG's text", () => {
    const text = JSON.stringify(KEPT);
    const data = utf8.encode(text).length + 20;
    expect(inside(joined("\x89PNG....", [0, 0, data >> 8, data & 255], "iTXtwarmtide:recipe", [0, 0, 0, 0, 0], text, "junk"))).toEqual(KEPT);
  });
  it("is read from XMP, its marks unescaped", () => {
    const text = JSON.stringify(KEPT).replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;").replaceAll('"', "&quot;");
    expect(inside(joined([255, 216], `<rdf:Description warmtide:recipe="${text}"/>`, [0, 1]))).toEqual(KEPT);
  });
  it("is nothing where there is none, or where it is broken", () => {
    expect(inside(joined("\x89PNG"))).toBeNull();
    expect(inside(joined('warmtide:recipe="{', "warmtide:recipe"))).toBeNull();
    expect(inside(joined('warmtide:recipe="[1]"'))).toBeNull();
    expect(inside(joined([0, 0, 0, 0, 255, 255, 255, 255], "iTXtwarmtide:recipe", [0, 0, 0, 0, 0], "x"))).toBeNull();
  });
});
