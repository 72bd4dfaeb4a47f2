import type { ButtonHTMLAttributes } from "react";

type Weight = "main" | "plain" | "quiet";

const LOOKS: Record<Weight, string> = {
  main: "bg-ember text-white hover:bg-ember-deep disabled:bg-rule disabled:text-faint",
  plain: "border border-rule bg-sheet text-ink hover:border-faint disabled:text-faint",
  quiet: "text-teal hover:bg-shoal disabled:text-faint",
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
      className={`inline-flex h-8 items-center ${spread ? "justify-between" : "justify-center"} gap-1.5 rounded-md px-3 font-semibold whitespace-nowrap transition-colors ${LOOKS[weight]} ${className}`}
      {...rest}
    />
  );
}

export function KeyCap({ children }: { children: string }) {
  return <kbd className="rounded border border-rule bg-paper px-1.5 font-sans text-xs text-faint">{children}</kbd>;
}
