import { useEffect } from "react";
import { useNotices } from "../../common/notices";
import { readSettings } from "../../primitives/settings";
import { useBands } from "../../study/band";

/** Settings copied as text, here or from a saved take, go into the band. */
export function usePasted(studyId: string) {
  const change = useBands((s) => s.change);
  useEffect(() => {
    const paste = (event: ClipboardEvent) => {
      const text = event.clipboardData?.getData("text/plain") ?? "";
      const typing = event.target instanceof HTMLElement && event.target.matches("input, textarea");
      const found = typing ? null : readSettings(text);
      if (!found) return;
      change(studyId, (b) => ({ recipe: { ...b.recipe, ...found }, spans: {} }));
      useNotices.getState().say("The pasted settings stand in the band.");
    };
    window.addEventListener("paste", paste);
    return () => window.removeEventListener("paste", paste);
  }, [change, studyId]);
}
