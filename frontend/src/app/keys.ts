import { useEffect, useRef } from "react";

/** Keys as they are listed under `?`, by place. */
export const KEY_LIST: { place: string; keys: [string, string][] }[] = [
  {
    place: "Everywhere",
    keys: [
      ["?", "show or hide this list"],
      ["Ctrl V", "paste a picture and begin a study"],
      ["G", "next surround: dark, mid, light grey"],
      ["K  M  X", "keep, maybe, drop; again to take the mark away"],
      ["B (hold)", "blink: the source instead of the take"],
      ["S", "save the take as PNG with its recipe"],
    ],
  },
  {
    place: "Desk",
    keys: [
      ["R", "run what the band says"],
      ["A", "try all looks: one take in each"],
      ["1 2 3 4", "go to strength, guidance, seed, steps"],
      ["5 6 7 8", "go to the holds on lines, shapes, colours, faces"],
      ["W", "go to the prompt; Esc leaves it"],
      ["T", "on a control: stretch it into a span, or back to one value"],
      ["\u2190 \u2192", "on a control: change it; with Shift ten steps"],
      ["+  \u2212", "on a stretched control: more or fewer values"],
      ["Ctrl Z  Ctrl Y", "undo and redo in the band"],
      ["\u2190 \u2192 \u2191 \u2193", "on the sheet: go from take to take"],
      ["Enter", "take to the bench"],
      ["C", "copy the take's settings into the band"],
    ],
  },
  {
    place: "Bench",
    keys: [
      ["D", "divider"],
      ["P", "side by side"],
      ["O", "the take alone"],
      ["0", "fit"],
      ["+  \u2212", "zoom in and out, up to 400 %"],
      ["\u2190 \u2192", "previous and next take"],
      ["[  ]", "move the divider"],
      ["Esc", "back to the desk"],
    ],
  },
];

export type KeyMap = Record<string, (event: KeyboardEvent) => void>;

function typing(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  return target.isContentEditable || target.matches("input:not([type=range]), textarea, select");
}

/** The name of a key press: "k", "Enter", "ctrl+z". */
export function pressed(event: KeyboardEvent): string {
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  return event.ctrlKey || event.metaKey ? `ctrl+${key}` : key;
}

/** Listen for keys while a component is shown; not while something is typed, nor what a control has handled. */
export function useKeys(down: KeyMap, up: KeyMap = {}) {
  const maps = useRef({ down, up });
  useEffect(() => {
    maps.current = { down, up };
  });
  useEffect(() => {
    const onDown = (event: KeyboardEvent) => {
      if (event.defaultPrevented || event.altKey || typing(event.target)) return;
      const act = maps.current.down[pressed(event)];
      if (act) {
        event.preventDefault();
        act(event);
      }
    };
    const onUp = (event: KeyboardEvent) => maps.current.up[pressed(event)]?.(event);
    window.addEventListener("keydown", onDown);
    window.addEventListener("keyup", onUp);
    return () => {
      window.removeEventListener("keydown", onDown);
      window.removeEventListener("keyup", onUp);
    };
  }, []);
}
