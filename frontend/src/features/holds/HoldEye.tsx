import { Eye } from "lucide-react";
import type { HoldName } from "../../api/insight";
import { useShownHold } from "./shown";

/** Shows what a hold keeps, over the source: while it is pointed at, or until it is pressed again. */
export function HoldEye({ hold }: { hold: HoldName }) {
  const { pinned, pin, point } = useShownHold();
  return (
    <button
      type="button"
      aria-pressed={pinned === hold}
      aria-label={`Show what the hold on ${hold} keeps`}
      title="Show on the source what it keeps"
      onClick={() => pin(hold)}
      onPointerEnter={() => point(hold)}
      onPointerLeave={() => point(null)}
      className={`rounded p-0.5 hover:bg-glow ${pinned === hold ? "bg-shoal text-teal" : "text-faint"}`}
    >
      <Eye size={14} />
    </button>
  );
}
