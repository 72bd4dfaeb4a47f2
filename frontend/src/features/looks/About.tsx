import type { LookView } from "../../api/client";

interface Props {
  look: LookView;
  kind: string;
  strength: number;
  onStrength: (strengths: [number, number]) => void;
}

/** What the chosen look is, what it is made for, and where its strength usually lies. */
export function About({ look, kind, strength, onStrength }: Props) {
  const [from, to] = look.strengths as [number, number];
  const outside = strength < from || strength > to;
  return (
    <div className="flex min-w-0 flex-1 items-center gap-3 text-[13px]">
      <p className="m-0 min-w-0 truncate" title={look.description}>
        <span className="font-semibold">{look.title}.</span> {look.description.charAt(0).toUpperCase() + look.description.slice(1).replace(/\.$/, "")}.{" "}
        {!look.kinds.includes(kind) && <span className="text-fault">Made for {look.kinds.join(", ")}.</span>}
      </p>
      <span className="shrink-0 text-xs whitespace-nowrap text-faint">usual strength {from.toFixed(2)} to {to.toFixed(2)}</span>
      <span className="relative h-1.5 w-28 shrink-0 rounded-full bg-rule" aria-hidden>
        <span className="absolute h-1.5 rounded-full bg-teal/60" style={{ left: `${from * 100}%`, width: `${(to - from) * 100}%` }} />
        <span className="absolute top-1/2 h-3 w-0.5 -translate-y-1/2 bg-deep" style={{ left: `${strength * 100}%` }} />
      </span>
      {outside && (
        <button type="button" className="shrink-0 rounded text-xs text-amber underline decoration-dotted" onClick={() => onStrength([from, to])}>
          set it
        </button>
      )}
    </div>
  );
}
