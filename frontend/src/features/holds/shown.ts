import { create } from "zustand";
import type { HoldName } from "../../api/insight";

interface Shown {
  /** The hold that stays shown, and the one shown while it is pointed at. */
  pinned: HoldName | null;
  pointed: HoldName | null;
  pin: (hold: HoldName) => void;
  point: (hold: HoldName | null) => void;
}

/** Which hold is laid over the source; one at a time. */
export const useShownHold = create<Shown>((set) => ({
  pinned: null,
  pointed: null,
  pin: (hold) => set((s) => ({ pinned: s.pinned === hold ? null : hold })),
  point: (pointed) => set({ pointed }),
}));

export const HOLD_WORDS: Record<HoldName, string> = {
  lines: "Tinted: edges that the hold on lines keeps, the firmer the stronger.",
  shapes: "Tinted: masses and silhouettes that the hold on shapes keeps.",
  colours: "The broad colours that the hold on colours keeps; detail is free.",
  faces: "Tinted: eyes, brows, nose and mouth that are kept, skin less firmly. None tinted means none was found.",
  subject: "Tinted: what the picture is about. None tinted means no one thing stands out; paint it in (Shift P).",
  depth: "The depth that is held, white near: your guide, or for flat art its parts blown up.",
};
