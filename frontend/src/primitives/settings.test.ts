import { describe, expect, it } from "vitest";
import { readSettings, writeSettings } from "./settings";

describe("settings as text", () => {
  const recipe = { look: "oil", strength: 0.62, holds: { lines: 0.7 }, seed: 9 };
  it("are read back as written, also out of a saved take's text", () => {
    expect(readSettings(writeSettings(recipe))).toEqual(recipe);
    expect(readSettings(JSON.stringify({ recipe, key: "ab" }))).toEqual(recipe);
  });
  it("leave out what is no setting, and any other text alone", () => {
    expect(readSettings('{"look": "oil", "__proto__x": 1}')).toEqual({ look: "oil" });
    for (const text of ["", "golden hour", "{", '{"seed": 3}', "[1]"]) expect(readSettings(text)).toBeNull();
  });
});
