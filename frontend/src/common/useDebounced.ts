import { useEffect, useState } from "react";

/** A value that follows another once it rests. */
export function useDebounced<T>(value: T, wait: number): T {
  const [held, setHeld] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setHeld(value), wait);
    return () => clearTimeout(timer);
  }, [value, wait]);
  return held;
}
