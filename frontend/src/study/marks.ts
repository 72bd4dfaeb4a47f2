import type { MarkValue } from "../api/client";

/** What an artist says of a take, and the key that says it. */
export const MARKS: { value: MarkValue; title: string; key: string }[] = [
  { value: "keep", title: "Keep", key: "K" },
  { value: "maybe", title: "Maybe", key: "M" },
  { value: "drop", title: "Drop", key: "X" },
];
