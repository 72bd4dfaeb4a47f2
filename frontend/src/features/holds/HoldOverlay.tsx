import { useState } from "react";
import type { SourceView } from "../../api/client";
import { holdOverlay } from "../../api/insight";
import { HOLD_WORDS, useShownHold } from "./shown";

/** What the shown hold keeps, over a source of any size; the firmer the hold, the plainer. */
export function HoldOverlay({ source, holds }: { source: SourceView; holds: Partial<Record<string, number>> | undefined }) {
  const { pinned, pointed } = useShownHold();
  const hold = pointed ?? pinned;
  const [failed, setFailed] = useState("");
  if (!hold) return null;
  const address = holdOverlay(source, hold);
  if (failed === address) {
    return <span className="absolute inset-0 flex items-center justify-center bg-black/40 p-4 text-center text-[13px] text-white">Nothing says what is near and far here; give a depth guide.</span>;
  }
  const whole = hold === "colours" || hold === "depth";
  const firmness = holds?.[hold] ?? 0;
  return (
    <>
      {!whole && <span className="pointer-events-none absolute inset-0 bg-mid/55" />}
      <img
        data-hold={hold}
        src={address}
        alt={`What the hold on ${hold} keeps`}
        draggable={false}
        onError={() => setFailed(address)}
        className="pointer-events-none absolute inset-0 h-full w-full"
        style={{ opacity: whole ? 1 : 0.35 + 0.65 * firmness }}
      />
      <span className="pointer-events-none absolute inset-x-0 bottom-0 bg-black/60 px-2 py-0.5 text-xs leading-snug text-white">{HOLD_WORDS[hold]}</span>
    </>
  );
}
