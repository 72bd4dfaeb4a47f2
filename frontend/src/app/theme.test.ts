import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";

const css = readFileSync(new URL("./theme.css", import.meta.url), "utf8");

/** Colours of a block of the style sheet, by name. */
function colours(block: string): Record<string, string> {
  const from = css.indexOf(block);
  const body = css.slice(from, css.indexOf("}", from));
  return Object.fromEntries([...body.matchAll(/--color-([a-z-]+): (#[0-9a-f]{6})/g)].map((m) => [m[1]!, m[2]!]));
}

const light = colours("@theme");
const dark = { ...light, ...colours(':root[data-theme="dark"]') };

function luminance(hex: string): number {
  const [r, g, b] = [1, 3, 5].map((i) => {
    const v = parseInt(hex.slice(i, i + 2), 16) / 255;
    return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * r! + 0.7152 * g! + 0.0722 * b!;
}

function contrast(a: string, b: string): number {
  const [high, low] = [luminance(a), luminance(b)].sort((x, y) => y - x);
  return (high! + 0.05) / (low! + 0.05);
}

/** Words on what they stand on. */
const WORDS = [
  ["ink", "paper"], ["ink", "sheet"], ["ink", "glow"], ["ink", "shoal"], ["faint", "paper"], ["faint", "sheet"], ["faint", "glow"],
  ["amber", "paper"], ["amber", "sheet"], ["amber", "glow"], ["teal", "paper"], ["teal", "sheet"], ["teal", "shoal"],
  ["fault", "paper"], ["fault", "blush"], ["fault", "sheet"],
];

describe.each([["by day", light], ["by night", dark]])("contrast %s", (_name, theme) => {
  it.each(WORDS)("%s on %s is at least 4.5", (words, ground) => {
    expect(contrast(theme[words]!, theme[ground]!)).toBeGreaterThanOrEqual(4.5);
  });
  it("white words stand out on fills and on the surround", () => {
    for (const fill of ["deep", "ember", "ember-deep", "mid", "dark"]) expect(contrast("#ffffff", theme[fill]!)).toBeGreaterThanOrEqual(4.5);
    expect(contrast("#171717", theme.light!)).toBeGreaterThanOrEqual(4.5);
  });
  it("handles and focus stand out", () => {
    for (const ground of ["paper", "sheet"]) for (const edge of ["amber", "teal", "ink"]) expect(contrast(theme[edge]!, theme[ground]!)).toBeGreaterThanOrEqual(3);
  });
});
