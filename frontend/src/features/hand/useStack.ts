import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { changeStack, readStack, stackKey, stepStack, takeIn, type StackView } from "../../api/hand";
import { sayFault } from "../../common/notices";
import type { Stack } from "../../primitives/stack";

type Change = (stack: Stack) => Stack;

/** Changes of one kind that follow one another this fast are one version: a gauge that is dragged, a key that is held. */
const PAUSE_MS = 350;

/**
 * A touched picture: what is seen is changed at once and kept one change after another. Where keeping fails, what is kept
 * is shown again, and said why.
 */
export function useStack(id: string) {
  const queries = useQueryClient();
  const query = useQuery({ queryKey: stackKey(id), queryFn: () => readStack(id), staleTime: Infinity });
  const [ahead, setAhead] = useState<Stack | null>(null);
  const [waiting, setWaiting] = useState(0);
  const latest = useRef<Stack | null>(null);
  const coming = useRef(new Set<Promise<unknown>>());
  const run = useRef<{ kind: string; changes: Change[]; timer: ReturnType<typeof setTimeout> } | null>(null);
  const line = useRef<Promise<unknown>>(Promise.resolve());
  const kept = useCallback(() => queries.getQueryData<StackView>(stackKey(id)), [queries, id]);

  /** One thing after another with the server. */
  const enqueue = useCallback(
    (act: (now: StackView) => Promise<StackView>) => {
      setWaiting((n) => n + 1);
      const done = line.current.then(async () => {
        const now = kept();
        if (!now) return;
        queries.setQueryData(stackKey(id), await act(now));
      });
      line.current = done
        .catch((error: unknown) => {
          sayFault(error);
          latest.current = null;
          setAhead(null);
          return queries.invalidateQueries({ queryKey: stackKey(id) });
        })
        .finally(() => setWaiting((n) => n - 1));
      return line.current;
    },
    [id, kept, queries],
  );

  const keep = useCallback(
    (change: Change) => {
      const after = latest.current;
      // Done anew to what is kept by then: an undo that was on its way is not overwritten.
      void enqueue((now) => {
        const next = change(now.stack);
        return next === now.stack ? Promise.resolve(now) : changeStack(id, now.revision, next);
      }).then(() => {
        if (latest.current === after) {
          latest.current = null;
          setAhead(null);
        }
      });
    },
    [enqueue, id],
  );
  /** What waits for its pause goes now. */
  const flush = useCallback(() => {
    const waited = run.current;
    run.current = null;
    if (!waited) return;
    clearTimeout(waited.timer);
    setWaiting((n) => n - 1);
    keep((stack) => waited.changes.reduce((now, change) => change(now), stack));
  }, [keep]);
  /** Change what is seen at once; changes of one `kind` without a pause are kept as one. */
  const edit = useCallback(
    (change: Change, kind?: string) => {
      const before = latest.current ?? kept()?.stack;
      if (!before) return;
      const after = change(before);
      if (after === before) return;
      if (run.current && run.current.kind !== kind) flush();
      latest.current = after;
      setAhead(after);
      if (kind === undefined) return keep(change);
      if (run.current) clearTimeout(run.current.timer);
      else setWaiting((n) => n + 1);
      run.current = { kind, changes: [...(run.current?.changes ?? []), change], timer: setTimeout(flush, PAUSE_MS) };
    },
    [flush, keep, kept],
  );
  useEffect(() => flush, [flush]);
  const step = useCallback((by: -1 | 1) => (flush(), enqueue((now) => stepStack(id, now.revision, by))), [enqueue, flush, id]);
  const bring = useCallback((take: string) => (flush(), enqueue((now) => takeIn(id, now.revision, take))), [enqueue, flush, id]);
  /** Something is on its way that ends in a change: a stroke that is being kept. */
  const during = useCallback((act: Promise<unknown>) => {
    setWaiting((n) => n + 1);
    const done = act.catch(sayFault).finally(() => {
      coming.current.delete(done);
      setWaiting((n) => n - 1);
    });
    coming.current.add(done);
    return done;
  }, []);
  /** When the changes that were told so far are kept. */
  const told = useCallback(() => (flush(), line.current), [flush]);
  /** When all changes are kept, those on their way too. */
  const settled = useCallback(async () => {
    while (coming.current.size) await Promise.all(coming.current);
    flush();
    await line.current;
  }, [flush]);
  return { view: query.data, fault: query.error, stack: ahead ?? query.data?.stack, edit, step, bring, during, told, settled, saving: waiting > 0 };
}

export type StackHand = ReturnType<typeof useStack>;
