import { useRef, useState } from "react";

const ONE_MOVEMENT = 600;
const MOST = 200;

/** Something being changed, with undo and redo; changes within one movement of the hand are one, unless one begins `apart`. */
export function useHistory<T>(first: T) {
  const [now, setNow] = useState(first);
  const [past, setPast] = useState<T[]>([]);
  const [future, setFuture] = useState<T[]>([]);
  const last = useRef(0);
  const change = (to: (before: T) => T, apart = false) => {
    const at = Date.now();
    if (apart || at - last.current > ONE_MOVEMENT || !past.length) setPast((p) => [...p.slice(-MOST), now]);
    last.current = at;
    setFuture([]);
    setNow(to);
  };
  const step = (from: T[], take: (rest: T[]) => void, put: (all: (p: T[]) => T[]) => void) => {
    const found = from.at(-1);
    if (found === undefined) return;
    last.current = 0;
    take(from.slice(0, -1));
    put((all) => [...all, now]);
    setNow(found);
  };
  return {
    now,
    change,
    undo: () => step(past, setPast, setFuture),
    redo: () => step(future, setFuture, setPast),
    canUndo: past.length > 0,
    canRedo: future.length > 0,
  };
}
