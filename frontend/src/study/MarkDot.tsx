import type { MarkValue } from "../api/client";

/** A mark as a small sign that is told apart without colour: full, half, crossed. */
export function MarkDot({ value, decorative = false }: { value: MarkValue | null | undefined; decorative?: boolean }) {
  if (!value) return null;
  return (
    <svg width="14" height="14" viewBox="0 0 14 14" {...(decorative ? { "aria-hidden": true } : { role: "img", "aria-label": value })} className="shrink-0">
      <circle cx="7" cy="7" r="6" fill={value === "keep" ? "#eda84a" : "#fffdf9"} stroke="#14323a" strokeWidth="1.2" />
      {value === "maybe" && <path d="M7 1a6 6 0 0 1 0 12z" fill="#eda84a" />}
      {value === "drop" && <path d="M4 4l6 6M10 4l-6 6" stroke="#14323a" strokeWidth="1.6" />}
    </svg>
  );
}
