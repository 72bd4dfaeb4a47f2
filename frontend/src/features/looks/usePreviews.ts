import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";

/** More at once would take the connections that live drafts need. */
const AT_ONCE = 2;

/**
 * Pictures behind addresses, fetched a few at a time in the order given, as object addresses by name. Those of an
 * order that has changed are fetched next; a panel that closes asks for no more.
 */
export function usePreviews(wanted: { name: string; address: string }[]): Record<string, string | null> {
  const queries = useQueryClient();
  const [, drawn] = useState(0);
  const key = wanted.map((w) => w.address).join(" ");
  const known = (address: string) => queries.getQueryData<string | null>(["preview", address]);

  useEffect(() => {
    const stop = new AbortController();
    const left = wanted.filter((w) => known(w.address) === undefined);
    const pump = async () => {
      for (let next = left.shift(); next && !stop.signal.aborted; next = left.shift()) {
        const { address } = next;
        try {
          const answer = await fetch(address, { signal: stop.signal });
          // A preview that can't be made stays a blank card; the look itself says why when it is run.
          const url = answer.status === 200 ? URL.createObjectURL(await answer.blob()) : null;
          if (answer.status !== 204) queries.setQueryData(["preview", address], url);
        } catch {
          if (stop.signal.aborted) return;
          queries.setQueryData(["preview", address], null);
        }
        drawn((n) => n + 1);
      }
    };
    for (let i = 0; i < AT_ONCE; i++) void pump();
    return () => stop.abort();
    // The addresses say all that matters.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key, queries]);
  return Object.fromEntries(wanted.flatMap((w) => (known(w.address) === undefined ? [] : [[w.name, known(w.address)!]])));
}
