import { X } from "lucide-react";
import { useState } from "react";
import { thingPicture, useLibrary, type Thing } from "../../api/hand";

interface Props {
  onPick: (thing: Thing) => void;
  onClose: () => void;
}

const fits = (thing: Thing, search: string) => search.toLowerCase().split(/\s+/).every((word) => [thing.title.toLowerCase(), thing.group, ...thing.words].some((w) => w.includes(word)));

/** Figures, growth and craft to lay in; they are restyled with the picture. */
export function Library({ onPick, onClose }: Props) {
  const things = useLibrary().data ?? [];
  const [search, setSearch] = useState("");
  const found = things.filter((thing) => fits(thing, search));
  return (
    <aside aria-label="Library" className="absolute inset-y-0 right-[264px] z-20 flex w-[330px] animate-[rise_.15s_ease-out] flex-col gap-2 border-l border-rule bg-paper p-3 text-ink shadow-xl">
      <div className="flex items-center gap-2">
        <input autoFocus type="search" aria-label="Search the library" placeholder="tree, boat, walking…" value={search} onChange={(event) => setSearch(event.target.value)} onKeyDown={(event) => event.key === "Escape" && onClose()} className="h-8 flex-1 rounded-md border border-rule bg-sheet px-2" />
        <button type="button" aria-label="Close the library" title="Close (Esc)" onClick={onClose} className="rounded p-1 text-faint hover:text-ink"><X size={17} /></button>
      </div>
      {!found.length && <p className="text-[13px] text-faint">Nothing of that name; drop a picture file of your own onto the Hand instead.</p>}
      <div className="grid min-h-0 grid-cols-3 gap-2 overflow-y-auto">
        {found.map((thing) => (
          <button key={thing.name} type="button" onClick={() => onPick(thing)} title={`Lay in: ${thing.title}`} className="flex flex-col items-center gap-1 rounded-md border border-rule bg-sheet p-1.5 hover:border-amber">
            <img src={thingPicture(thing.name)} alt="" loading="lazy" className="h-[76px] w-full rounded bg-light object-contain" />
            <span className="text-xs leading-4">{thing.title}</span>
          </button>
        ))}
      </div>
    </aside>
  );
}
