import { useEffect, useRef } from "react";
import listed from "./keys.json";

/** Keys as they are listed under `?`, by place. */
export const KEY_LIST = listed as { place: string; keys: [string, string][] }[];

/** Enter and the space bar belong to a button that was reached by keyboard; on a cell of the sheet, and after a click,
 * they are the place's. */
function pressesButton(event: KeyboardEvent, pointed: boolean): boolean {
  const presses = event.key === "Enter" || event.key === " ";
  return presses && !pointed && event.target instanceof HTMLElement && event.target.matches("button:not([role=gridcell]), a[href]");
}

export type KeyMap = Record<string, (event: KeyboardEvent) => void>;

function typing(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  return target.isContentEditable || target.matches("input:not([type=range], [type=color]), textarea, select");
}

/** The name of a key press: "k", "Enter", "ctrl+z". */
export function pressed(event: KeyboardEvent): string {
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  return event.ctrlKey || event.metaKey ? `ctrl+${key}` : key;
}

/** Listen for keys while a component is shown; not while something is typed, nor what a control has handled. */
export function useKeys(down: KeyMap, up: KeyMap = {}) {
  const maps = useRef({ down, up });
  // Whether the last thing that moved the focus was the pointer.
  const pointed = useRef(false);
  useEffect(() => {
    maps.current = { down, up };
  });
  useEffect(() => {
    const onPointer = () => {
      pointed.current = true;
    };
    const onDown = (event: KeyboardEvent) => {
      if (event.key === "Tab") pointed.current = false;
      if (event.defaultPrevented || event.altKey || typing(event.target) || pressesButton(event, pointed.current)) return;
      const act = maps.current.down[pressed(event)];
      if (act) {
        event.preventDefault();
        act(event);
      }
    };
    const onUp = (event: KeyboardEvent) => maps.current.up[pressed(event)]?.(event);
    window.addEventListener("pointerdown", onPointer, true);
    window.addEventListener("keydown", onDown);
    window.addEventListener("keyup", onUp);
    return () => {
      window.removeEventListener("pointerdown", onPointer, true);
      window.removeEventListener("keydown", onDown);
      window.removeEventListener("keyup", onUp);
    };
  }, []);
}
