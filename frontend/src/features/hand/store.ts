import { create } from "zustand";
import type { Joined, Selection } from "../../primitives/select";

export const TOOLS = ["place", "paint", "erase", "lasso", "colour", "sample", "mend"] as const;
export type Tool = (typeof TOOLS)[number];

/** What the mending brush does: lays a copied part over, or works on what is there. */
export const MENDS = ["copy", "smooth", "sharpen", "lighten", "darken"] as const;
export type Mend = (typeof MENDS)[number];

interface HandState {
  tool: Tool;
  /** The tool before a colour was sampled, to go back to. */
  before: Tool;
  picked: string | null;
  width: number;
  soft: number;
  opacity: number;
  colour: string;
  recent: string[];
  /** The side of the square whose mean colour is taken. */
  mean: 1 | 5 | 15;
  tolerance: number;
  together: boolean;
  join: Joined;
  /** The eraser gives back what was erased. */
  restore: boolean;
  mend: Mend;
  mirrored: boolean;
  matched: boolean;
  selection: Selection | null;
  library: boolean;
  set: (part: Partial<Omit<HandState, "set">>) => void;
}

export const COLOURS_KEPT = 8;

/** What the hand holds: its tool, the tool's numbers, what is selected. */
export const useHand = create<HandState>((set) => ({
  tool: "place",
  before: "place",
  picked: null,
  width: 24,
  soft: 0.3,
  opacity: 1,
  colour: "#3f6b4a",
  recent: [],
  mean: 5,
  tolerance: 0.08,
  together: true,
  join: "new",
  restore: false,
  mend: "copy",
  mirrored: false,
  matched: true,
  selection: null,
  library: false,
  set: (part) => set(part),
}));

/** A colour that was picked, and those before it. */
export const withColour = (recent: string[], colour: string): string[] => [colour, ...recent.filter((c) => c !== colour)].slice(0, COLOURS_KEPT);
