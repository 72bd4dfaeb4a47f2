import { useEffect, useRef } from "react";

/** Keys as they are listed under `?`, by place. */
export const KEY_LIST: { place: string; keys: [string, string][] }[] = [
  {
    place: "Everywhere",
    keys: [
      ["?", "show or hide this list"],
      ["Ctrl V", "paste a picture and begin a study"],
      ["Q", "line-up: what waits and runs, of every study; order, pause, stop"],
      ["G", "next surround: dark, mid, light grey; with Shift the interface by day or by night"],
      ["K  M  X", "keep, maybe, drop; again to take the mark away"],
      ["N", "carry on: the take becomes the next source"],
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
      ["9 0", "go to look weight, and to the hold on depth where there is one"],
      ["L", "live: source and a draft that follows every control; again for the sheet"],
      ["I", "frame: crop, turn, flip, straighten, margin, ground"],
      ["F", "in the live view: render what the draft shows in full"],
      ["V", "readings in the cells, or not"],
      ["E", "the same spot of every take, enlarged where you point; drag moves all, + and \u2212 or the wheel zoom"],
      ["W", "go to the prompt; Esc leaves it"],
      ["\u2191 \u2193", "on a phrase: weigh it; Alt \u2190 \u2192 move it, Enter edit, Delete remove"],
      ["J", "looks, each on this very picture; / searches, arrows move, Enter takes"],
      ["Z", "describe the picture in phrases"],
      ["U", "recolour: the colours of its parts"],
      ["P", "region: paint where takes may change the picture"],
      ["H", "faces: mark them where the program does not find them"],
      ["D", "mix: two or three pictures, or the chosen takes, into a new source"],
      ["T", "on a control: stretch it into a span, or back to one value"],
      ["\u2190 \u2192", "on a control: change it; with Shift ten steps"],
      ["+  \u2212", "on a stretched control: more or fewer values; the wheel over it too"],
      ["Ctrl Z  Ctrl Y", "undo and redo in the band"],
      ["\u2190 \u2192 \u2191 \u2193", "on the sheet: go along the axes; with Shift choose what is passed, with a click or Ctrl click too"],
      ["Ctrl A", "choose all takes shown"],
      ["PgUp PgDn", "page before, next page, where three controls are stretched"],
      ["Ctrl wheel", "or pinch: larger and smaller cells"],
      ["T", "try around the take: finer, seeds, steps, holds, looks"],
      ["O", "over again: the settings and spans of the sweep on the sheet into the band"],
      ["Y", "turn the axes of the next sweep: across, down, by page; with Shift the sheet as it is"],
      ["Enter", "take to the bench"],
      ["C", "copy the take's settings into the band"],
    ],
  },
  {
    place: "Bench",
    keys: [
      ["D", "divider"],
      ["P", "side by side"],
      ["O", "the takes alone"],
      ["A", "compare with this take; again with the source"],
      ["0", "fit"],
      ["+  \u2212", "zoom in and out, up to 400 %"],
      ["\u2190 \u2192 \u2191 \u2193", "previous and next take along each axis; PgUp, PgDn by page"],
      ["[  ]", "move the divider; with Shift turn it, \\ stands it up or lays it down"],
      ["Ctrl click", "in the strip: lay a take beside, up to four"],
      ["H", "heat: where the composition gave way, the worst place boxed"],
      ["I", "the source\u2019s lines over the take"],
      ["U", "what is different, pixel by pixel"],
      ["Esc", "back to the desk"],
    ],
  },
];

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
