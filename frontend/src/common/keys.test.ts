import { expect, it } from "vitest";
import { KEY_LIST, pressed } from "./keys";

const press = (key: string, more: Partial<KeyboardEvent> = {}) => pressed({ key, ctrlKey: false, metaKey: false, ...more } as KeyboardEvent);

it("names keys whatever the case, and the two command keys alike", () => {
  expect([press("K"), press("Enter"), press("z", { ctrlKey: true }), press("Z", { metaKey: true })]).toEqual(["k", "Enter", "ctrl+z", "ctrl+z"]);
});

it("lists no key twice in one place", () => {
  for (const { place, keys } of KEY_LIST) {
    const named = keys.filter(([, what]) => !what.startsWith("on ")).map(([key]) => key);
    expect(new Set(named).size, place).toBe(named.length);
  }
});
