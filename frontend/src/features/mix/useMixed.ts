import { useEffect, useState } from "react";
import { UNREACHABLE, type CarryOn } from "../../api/client";
import { useDebounced } from "../../common/useDebounced";

const REST = 120;

/** What pictures would be when mixed, asked for once the hand rests; an older answer never comes after a newer one. */
export function useMixed(studyId: string, request: CarryOn | null): { url: string | null; fault: string | null; fresh: boolean } {
  const text = request ? JSON.stringify(request) : "";
  const wanted = useDebounced(text, REST);
  const [got, setGot] = useState<{ url: string | null; fault: string | null; text: string }>({ url: null, fault: null, text: "" });
  useEffect(() => {
    if (!wanted) return;
    const stop = new AbortController();
    void (async () => {
      try {
        const answer = await fetch(`/api/studies/${studyId}/mix`, { method: "POST", headers: { "content-type": "application/json" }, body: wanted, signal: stop.signal });
        if (answer.ok) return setGot({ url: URL.createObjectURL(await answer.blob()), fault: null, text: wanted });
        const said = (await answer.json().catch(() => null)) as { message?: string } | null;
        setGot({ url: null, fault: said?.message ?? "The pictures could not be mixed.", text: wanted });
      } catch {
        if (!stop.signal.aborted) setGot({ url: null, fault: UNREACHABLE, text: wanted });
      }
    })();
    return () => stop.abort();
  }, [studyId, wanted]);
  useEffect(() => () => void (got.url && URL.revokeObjectURL(got.url)), [got.url]);
  return { url: got.url, fault: got.fault, fresh: got.text === text };
}
