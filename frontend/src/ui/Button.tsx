import type { ButtonHTMLAttributes } from "react";
import { OVER } from "./over";

type Weight = "main" | "plain" | "quiet" | "over";

const LOOKS: Record<Weight, string> = {
  main: "bg-ember text-white hover:bg-ember-deep disabled:bg-rule disabled:text-faint",
  plain: "border border-rule bg-sheet text-ink hover:border-faint disabled:text-faint",
  quiet: "text-teal hover:bg-shoal disabled:text-faint",
  over: OVER,
};

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  weight?: Weight;
  /** Contents at both ends instead of in the middle. */
  spread?: boolean;
}

export function Button({ weight = "plain", spread = false, className = "", ...rest }: Props) {
  return (
    <button
      type="button"
      className={`inline-flex ${weight === "over" ? "h-6" : "h-8"} items-center ${spread ? "justify-between" : "justify-center"} gap-1.5 rounded-md ${weight === "over" ? "px-2" : "px-3"} font-semibold whitespace-nowrap transition-colors ${LOOKS[weight]} ${className}`}
      {...rest}
    />
  );
}

/** A key beside what it does; `over` the surround it is as quiet as that. */
export function KeyCap({ children, over = false }: { children: string; over?: boolean }) {
  return <kbd className={`rounded border px-1 font-sans text-xs leading-4 ${over ? "border-current/40" : "border-rule bg-paper text-faint"}`}>{children}</kbd>;
}
