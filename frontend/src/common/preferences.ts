import { create } from "zustand";
import { persist } from "zustand/middleware";

export const SURROUNDS = ["dark", "mid", "light"] as const;
export type Surround = (typeof SURROUNDS)[number];

export type ChartView = "tide" | "map" | "scatter";

export type Theme = "light" | "dark";

interface Preferences {
  surround: Surround;
  theme: Theme;
  /** Which readings stand under the sheet, and whether they do. */
  chart: ChartView;
  chartHidden: boolean;
  /** What is said of a take is tucked away. */
  tucked: boolean;
  tuck: () => void;
  setSurround: (surround: Surround) => void;
  setTheme: (theme: Theme) => void;
  setChart: (chart: ChartView) => void;
  setChartHidden: (hidden: boolean) => void;
}

/** By day or by night, as the system says until the artist does. */
const preferred = (): Theme => (typeof window !== "undefined" && window.matchMedia?.("(prefers-color-scheme: dark)").matches ? "dark" : "light");

/** What an artist sets once for the whole program. */
export const usePreferences = create<Preferences>()(
  persist(
    (set) => ({
      surround: "mid",
      theme: preferred(),
      chart: "tide",
      chartHidden: false,
      tucked: false,
      tuck: () => set((s) => ({ tucked: !s.tucked })),
      setSurround: (surround) => set({ surround }),
      setTheme: (theme) => set({ theme }),
      setChart: (chart) => set({ chart }),
      setChartHidden: (chartHidden) => set({ chartHidden }),
    }),
    { name: "warmtide-preferences" },
  ),
);

export const SURROUND_CLASS: Record<Surround, string> = {
  dark: "bg-dark text-neutral-200",
  mid: "bg-mid text-white",
  light: "bg-light text-neutral-900",
};
