import { Search, Star, X } from "lucide-react";
import { useMemo, useRef, useState, type DragEvent, type KeyboardEvent } from "react";
import type { LookView, SourceView } from "../../api/client";
import { lookPreview } from "../../api/insight";
import { useHealth } from "../../api/queries";
import { lookBeside, lookSections } from "../../primitives/looks";
import { OwnLookButtons, OwnLookTools, useOwnLooks } from "./OwnLooks";
import { SecondLook } from "./SecondLook";
import { useLookShelf } from "./shelf";
import { usePreviews } from "./usePreviews";

interface Props {
  source: SourceView;
  looks: LookView[];
  look: string;
  second: string | null;
  share: number;
  strength: number;
  onLook: (name: string) => void;
  onSecond: (name: string | null) => void;
  onShare: (share: number) => void;
  onStrength: (strengths: [number, number]) => void;
  onClose: () => void;
}

const COLUMNS = 3;
const ABOUT_LEAST = 90;

/** Every look, tried on this very picture: one click takes it, a star keeps it near, a second one is mixed in. */
export function LooksPanel({ source, looks, look, second, share, strength, onLook, onSecond, onShare, onStrength, onClose }: Props) {
  const { favourites, recent, toggle, used } = useLookShelf();
  const [typed, setTyped] = useState("");
  const [pointed, setPointed] = useState<string | null>(null);
  const [slot, setSlot] = useState<"first" | "second">("first");
  const search = useRef<HTMLInputElement>(null);
  const panel = useRef<HTMLElement>(null);
  const engine = useHealth().data?.engine;
  const sections = useMemo(() => lookSections(looks, source.kind, favourites, typed), [looks, source.kind, favourites, typed]);
  // The looks used last are the likeliest to be looked at; then as shown.
  const wanted = useMemo(() => {
    const order = [look, ...recent, ...sections.flatMap((s) => s.looks.map((l) => l.name)), ...looks.map((l) => l.name)];
    const names = [...new Set(order)].filter((name) => looks.some((l) => l.name === name));
    return engine ? names.map((name) => ({ name, address: lookPreview(source, name, engine) })) : [];
  }, [look, recent, sections, looks, source, engine]);
  const previews = usePreviews(wanted);

  const take = (name: string) => {
    used(name);
    if (slot === "second" && name !== look) onSecond(name);
    else onLook(name);
  };
  const own = useOwnLooks(take);
  const chosen = slot === "second" ? (second ?? look) : look;
  const shown = looks.find((l) => l.name === (pointed ?? chosen));

  const key = (event: KeyboardEvent) => {
    const step: Record<string, number> = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: COLUMNS, ArrowUp: -COLUMNS };
    if (event.key === "Enter") {
      // Here it takes the look; it doesn't open the bench.
      event.stopPropagation();
    } else if (event.key === "Escape") {
      event.stopPropagation();
      onClose();
    } else if (event.key === "/") {
      event.preventDefault();
      search.current?.focus();
    } else if (step[event.key] && (event.target as HTMLElement).dataset.look) {
      event.preventDefault();
      event.stopPropagation();
      const next = lookBeside(sections, (event.target as HTMLElement).dataset.look!, step[event.key]!);
      panel.current?.querySelector<HTMLElement>(`[data-look="${next}"]`)?.focus();
    }
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    own.give([...event.dataTransfer.files]);
  };

  return (
    <aside ref={panel} aria-label="Looks" data-own-drop="Drop pictures to learn a look from them" onKeyDown={key} onDrop={drop} className="flex w-[424px] shrink-0 flex-col border-r border-rule bg-paper text-ink">
      <div className="flex items-center gap-2 px-3 pt-2">
        <label className="flex h-8 flex-1 items-center gap-1.5 rounded-md border border-rule bg-sheet px-2 focus-within:border-amber">
          <Search size={15} className="text-faint" aria-hidden />
          <input ref={search} autoFocus aria-label="Search looks" value={typed} onChange={(event) => setTyped(event.target.value)} placeholder={`search ${looks.length} looks`} className="min-w-0 flex-1 bg-transparent placeholder:text-faint focus-visible:!outline-none"
            onKeyDown={(event) => {
              if (event.key === "ArrowDown" || event.key === "Enter") {
                event.preventDefault();
                const first = panel.current?.querySelector<HTMLElement>("[data-look]");
                first?.focus();
                // Whoever types a name and presses Enter wants that look.
                if (event.key === "Enter" && typed.trim()) first?.click();
              }
            }}
          />
        </label>
        <button type="button" aria-label="Close the looks" title="Close (Esc)" onClick={onClose} className="rounded p-1 text-faint hover:bg-glow hover:text-ink">
          <X size={18} />
        </button>
      </div>
      <SecondLook looks={looks} look={look} second={second} share={share} slot={slot} onSlot={setSlot} onSecond={onSecond} onShare={onShare} />
      <div className="min-h-0 flex-1 overflow-y-auto px-3 pb-2" data-testid="looks">
        {sections.map(({ heading, looks: members }) => (
          <section key={heading} aria-label={heading}>
            <h3 className="m-0 pt-2 pb-1 text-xs tracking-wide text-faint uppercase">{heading}</h3>
            <div className="grid grid-cols-3 gap-2">
              {members.map((l) => (
                <Card key={l.name} look={l} preview={previews[l.name]} chosen={l.name === chosen} also={l.name === (slot === "second" ? look : second)} starred={favourites.includes(l.name)} onTake={() => take(l.name)} onStar={() => toggle(l.name)} onPoint={(on) => setPointed(on ? l.name : null)} />
              ))}
            </div>
          </section>
        ))}
        {sections.length === 0 && <p className="pt-4 text-faint">No look has all of these words; try one of them, or learn a look from pictures below.</p>}
      </div>
      <div className="border-t border-rule px-3 py-2" style={{ minHeight: ABOUT_LEAST }}>
        {shown && <About look={shown} kind={source.kind} strength={strength} onStrength={onStrength} />}
        {shown?.category === "learned" && !pointed && <OwnLookTools key={shown.name} look={shown} />}
        <div className="mt-1.5">
          <OwnLookButtons own={own} />
        </div>
      </div>
    </aside>
  );
}

interface CardProps {
  look: LookView;
  preview: string | null | undefined;
  chosen: boolean;
  also: boolean;
  starred: boolean;
  onTake: () => void;
  onStar: () => void;
  onPoint: (on: boolean) => void;
}

function Card({ look, preview, chosen, also, starred, onTake, onStar, onPoint }: CardProps) {
  return (
    <div className="group relative" onPointerEnter={() => onPoint(true)} onPointerLeave={() => onPoint(false)}>
      <button
        type="button"
        data-look={look.name}
        aria-pressed={chosen}
        aria-label={`${look.title}${chosen ? ", chosen" : also ? ", the other look" : ""}`}
        onClick={onTake}
        onFocus={() => onPoint(true)}
        onBlur={() => onPoint(false)}
        className={`block w-full overflow-hidden rounded-md border-2 text-left ${chosen ? "border-amber" : also ? "border-teal" : "border-transparent hover:border-faint"}`}
      >
        <span className="flex h-[84px] items-center justify-center bg-mid">
          {preview ? <img src={preview} alt="" draggable={false} className="max-h-full max-w-full" /> : <span className="text-xs text-white/80">{preview === null ? "no preview" : "…"}</span>}
        </span>
        <span className="block truncate bg-sheet px-1.5 py-0.5 text-[13px] font-semibold">{look.title}</span>
      </button>
      <button
        type="button"
        aria-label={`${starred ? "Take" : "Put"} ${look.title} ${starred ? "from" : "among"} the favourites`}
        aria-pressed={starred}
        onClick={onStar}
        className={`absolute top-1 right-1 rounded bg-sheet/85 p-0.5 ${starred ? "text-amber" : "text-faint opacity-0 group-hover:opacity-100 focus-visible:opacity-100"}`}
      >
        <Star size={14} fill={starred ? "currentColor" : "none"} />
      </button>
    </div>
  );
}

/** What a look is, what it is made for, and where its strength usually lies. */
function About({ look, kind, strength, onStrength }: { look: LookView; kind: string; strength: number; onStrength: (strengths: [number, number]) => void }) {
  const [from, to] = look.strengths as [number, number];
  const outside = strength < from || strength > to;
  return (
    <div>
      <p className="m-0 text-[13px] leading-snug">
        <span className="font-semibold">{look.title}.</span> {look.description.charAt(0).toUpperCase() + look.description.slice(1).replace(/\.$/, "")}.{" "}
        {!look.kinds.includes(kind) && <span className="text-fault">Made for {look.kinds.join(", ")}.</span>}
      </p>
      <div className="mt-1 flex items-center gap-2 text-xs text-faint">
        <span className="whitespace-nowrap">usual strength {from.toFixed(2)} to {to.toFixed(2)}</span>
        <span className="relative h-1.5 flex-1 rounded-full bg-rule" aria-hidden>
          <span className="absolute h-1.5 rounded-full bg-teal/60" style={{ left: `${from * 100}%`, width: `${(to - from) * 100}%` }} />
          <span className="absolute top-1/2 h-3 w-0.5 -translate-y-1/2 bg-deep" style={{ left: `${strength * 100}%` }} />
        </span>
        {outside && (
          <button type="button" className="rounded text-amber underline decoration-dotted" onClick={() => onStrength([from, to])}>
            set it
          </button>
        )}
      </div>
    </div>
  );
}
