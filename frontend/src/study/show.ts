import type { MarkValue } from "../api/client";

export type Show = "all" | "undropped" | "kept";

/** Which takes the sheet shows, by their marks. */
export const SHOWS: { value: Show; title: string; detail: string }[] = [
  { value: "all", title: "All takes", detail: "dropped ones pale" },
  { value: "undropped", title: "Not dropped", detail: "dropped ones hidden" },
  { value: "kept", title: "Kept", detail: "keep and maybe" },
];

export function isShown(show: Show, mark: MarkValue | null | undefined): boolean {
  if (show === "undropped") return mark !== "drop";
  if (show === "kept") return mark === "keep" || mark === "maybe";
  return true;
}
