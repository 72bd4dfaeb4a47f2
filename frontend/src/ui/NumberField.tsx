import { useState } from "react";

interface Props {
  label: string;
  value: number;
  digits: number;
  width?: string;
  /** Reads what was typed; a number with a point or a comma if not given. */
  read?: (text: string) => number;
  onCommit: (value: number) => void;
}

const readNumber = (text: string) => Number(text.replace(",", "."));

/** A number that can be typed; Enter or leaving commits, Escape gives it back. */
export function NumberField({ label, value, digits, width = "w-12", read = readNumber, onCommit }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const commit = () => {
    if (draft !== null) {
      const typed = read(draft);
      if (draft.trim() !== "" && Number.isFinite(typed)) onCommit(typed);
      setDraft(null);
    }
  };
  return (
    <input
      aria-label={label}
      inputMode="decimal"
      className={`${width} rounded border border-transparent bg-transparent px-1 text-right font-semibold hover:border-rule focus:border-amber focus:bg-sheet focus:outline-none`}
      value={draft ?? value.toFixed(digits)}
      onFocus={(event) => event.target.select()}
      onChange={(event) => setDraft(event.target.value)}
      onBlur={commit}
      onKeyDown={(event) => {
        if (event.key === "Enter") {
          commit();
          event.currentTarget.blur();
        }
        if (event.key === "Escape") {
          setDraft(null);
          event.currentTarget.blur();
        }
      }}
    />
  );
}
