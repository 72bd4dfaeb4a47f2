import { Search, X } from "lucide-react";
import { useMemo, useRef, useState, type DragEvent, type KeyboardEvent } from "react";
import type { LookView, Recipe, SourceView } from "../../api/client";
import { lookPreview } from "../../api/insight";
import { useHealth } from "../../api/queries";
import { useElementSize } from "../../common/useElementSize";
import { counted } from "../../primitives/words";
import { lookBeside, lookGroups } from "../../primitives/looks";
import { About } from "./About";
import { LookCard } from "./LookCard";
import { LookLarge } from "./LookLarge";
import { OwnLookButtons, OwnLookTools, useOwnLooks } from "./OwnLooks";
import { SecondLook } from "./SecondLook";
import { useLookShelf } from "./shelf";
import { usePointedLook } from "./usePointedLook";
import { usePreviews } from "./usePreviews";

interface Props {
  source: SourceView;
  looks: LookView[];
  /** Whether they can be shown on this picture: those of other engines can't. */
  pictured: boolean;
  /** Whether two of them can be mixed. */
  mixes: boolean;
  recipe: Recipe;
  /** Looks that are ticked as an axis. */
  ticked: string[];
  onTick: (names: string[]) => void;
  onLook: (name: string) => void;
  onSecond: (name: string | null) => void;
  onShare: (share: number) => void;
  onStrength: (strengths: [number, number]) => void;
  onClose: () => void;
}

const LEAST_CARD = 200;
const GAP = 8;
const MARGIN = 12;
/** Shapes that a card's picture keeps; what is longer is cut to it in the middle. */
const FLATTEST = 1.5;
const TALLEST = 1.12;

/** Every look, tried on this very picture, over the sheet: one click takes it, several ticked make a sweep, a second one is mixed in. */
export function LooksPanel({ source, looks, pictured, mixes, recipe, ticked, onTick, onLook, onSecond, onShare, onStrength, onClose }: Props) {
  const { favourites, recent, toggle, used } = useLookShelf();
  const [typed, setTyped] = useState("");
  const [slot, setSlot] = useState<"first" | "second">("first");
  const search = useRef<HTMLInputElement>(null);
  const panel = useRef<HTMLElement>(null);
  const engine = useHealth().data?.engine;
  const look = recipe.look ?? "";
  const second = recipe.second_look ?? null;
  const groups = useMemo(() => lookGroups(looks, source.kind, favourites, typed), [looks, source.kind, favourites, typed]);
  // The looks used last are the likeliest to be looked at; then as shown.
  const wanted = useMemo(() => {
    const order = [look, ...recent, ...groups.flatMap((s) => s.looks.map((l) => l.name)), ...looks.map((l) => l.name)];
    const names = [...new Set(order)].filter((name) => looks.some((l) => l.name === name));
    return engine && pictured ? names.map((name) => ({ name, address: lookPreview(source, name, engine) })) : [];
  }, [look, recent, groups, looks, source, engine, pictured]);
  const previews = usePreviews(wanted);
  const { pointed, point } = usePointedLook(panel);
  const { width } = useElementSize(panel);
  const columns = Math.max(1, Math.floor((width - 2 * MARGIN + GAP) / (LEAST_CARD + GAP)));
  const card = (width - 2 * MARGIN - (columns - 1) * GAP) / columns;
  const shape = Math.min(Math.max(source.framed_width / source.framed_height, TALLEST), FLATTEST);

  const take = (name: string) => {
    used(name);
    if (slot === "second" && name !== look) onSecond(name);
    else onLook(name);
  };
  const own = useOwnLooks(take);
  const chosen = slot === "second" ? (second ?? look) : look;
  const shown = looks.find((l) => l.name === chosen);
  const large = pointed && looks.find((l) => l.name === pointed.name);
  const tick = (name: string) => {
    const now = ticked.length ? ticked : [look];
    const next = now.includes(name) ? now.filter((n) => n !== name) : [...now, name];
    onTick(looks.map((l) => l.name).filter((n) => next.includes(n)));
  };

  const key = (event: KeyboardEvent) => {
    const step: Record<string, number> = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: columns, ArrowUp: -columns };
    const on = (event.target as HTMLElement).dataset.look;
    if (event.key === "Enter") {
      // Here it takes the look; it doesn't open the bench.
      event.stopPropagation();
    } else if (event.key === " " && on) {
      event.preventDefault();
      event.stopPropagation();
      tick(on);
    } else if (event.key === "Escape") {
      event.stopPropagation();
      onClose();
    } else if (event.key === "/") {
      event.preventDefault();
      search.current?.focus();
    } else if (step[event.key] && on) {
      event.preventDefault();
      event.stopPropagation();
      const next = lookBeside(groups, on, step[event.key]!);
      panel.current?.querySelector<HTMLElement>(`[data-look="${next}"]`)?.focus();
    }
  };
  const searchKey = (event: KeyboardEvent) => {
    if (event.key !== "ArrowDown" && event.key !== "Enter") return;
    event.preventDefault();
    const first = panel.current?.querySelector<HTMLElement>("[data-look]");
    first?.focus();
    // Whoever types a name and presses Enter wants that look.
    if (event.key === "Enter" && typed.trim()) first?.click();
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    own.give([...event.dataTransfer.files]);
  };

  return (
    <aside ref={panel} aria-label="Looks" data-own-drop="Drop pictures to learn a look from them" onKeyDown={key} onDrop={drop} className="absolute inset-0 z-30 flex flex-col bg-paper text-ink">
      <div className="flex items-center gap-3 px-3 pt-1.5">
        <label className="flex h-8 w-[220px] items-center gap-1.5 rounded-md border border-rule bg-sheet px-2 focus-within:border-amber">
          <Search size={15} className="text-faint" aria-hidden />
          <input ref={search} autoFocus aria-label="Search looks" value={typed} onChange={(event) => setTyped(event.target.value)} placeholder={`search ${counted(looks.length, "look")}`} className="min-w-0 flex-1 bg-transparent placeholder:text-faint focus-visible:!outline-none" onKeyDown={searchKey} />
        </label>
        {mixes && <SecondLook looks={looks} look={look} second={second} share={recipe.second_share ?? 0} slot={slot} onSlot={setSlot} onSecond={onSecond} onShare={onShare} />}
        <span className="ml-auto text-[13px] text-faint">{ticked.length > 1 ? `${ticked.length} ticked: an axis of the sweep` : "Enter takes, the space bar ticks several"}</span>
        <button type="button" aria-label="Close the looks" title="Close (Esc)" onClick={onClose} className="rounded p-1 text-faint hover:bg-glow hover:text-ink">
          <X size={18} />
        </button>
      </div>
      <div className="min-h-0 flex-1 overflow-y-auto pb-2 [scrollbar-width:none]" style={{ paddingInline: MARGIN }} data-testid="looks" onScroll={() => point(null, "hand")}>
        {groups.map(({ heading, looks: members }, g) => (
          <section key={heading} aria-label={heading}>
            <h3 className={`m-0 pb-1 text-xs tracking-wide text-faint uppercase ${g ? "pt-2" : "pt-1"}`}>{heading}</h3>
            <div className="grid" style={{ gap: GAP, gridTemplateColumns: `repeat(${columns}, 1fr)` }}>
              {members.map((l) => (
                <LookCard
                  key={l.name}
                  look={l}
                  preview={pictured ? previews[l.name] : null}
                  height={Math.round(card / shape)}
                  chosen={l.name === chosen}
                  also={l.name === (slot === "second" ? look : second)}
                  ticked={ticked.includes(l.name)}
                  starred={favourites.includes(l.name)}
                  onTake={() => take(l.name)}
                  onTick={() => tick(l.name)}
                  onStar={() => toggle(l.name)}
                  onPoint={(node, at) => point(node && { name: l.name, node }, at)}
                />
              ))}
            </div>
          </section>
        ))}
        {groups.length === 0 && <p className="pt-4 text-faint">No look has all of these words; try one of them, or learn a look from pictures below.</p>}
      </div>
      {large && pictured && <LookLarge look={large} source={source} preview={previews[large.name]} recipe={recipe} below={pointed.below} />}
      <div className="flex h-10 shrink-0 items-center gap-3 border-t border-rule px-3">
        {shown && <About look={shown} kind={source.kind} strength={recipe.strength ?? 0.5} onStrength={onStrength} />}
        {shown?.category === "learned" && <OwnLookTools key={shown.name} look={shown} />}
        <OwnLookButtons own={own} />
      </div>
    </aside>
  );
}
