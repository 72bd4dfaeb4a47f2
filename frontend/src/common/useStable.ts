import { useCallback, useEffect, useRef } from "react";

/** An act that is the same for as long as the component lives, and does what the last drawing says: for memoised parts. */
export function useStable<Given extends unknown[], Made>(act: (...given: Given) => Made): (...given: Given) => Made {
  const latest = useRef(act);
  useEffect(() => {
    latest.current = act;
  });
  return useCallback((...given: Given) => latest.current(...given), []);
}
