import { Search, X } from "lucide-react";
import { useRef } from "react";
import type { ShelfAsked } from "../../api/shelf";
import { useKeys } from "../../common/keys";
import { isAsked, type Found } from "../../primitives/shelf";
import { Picker } from "../../ui/Picker";

const ANY = "any";
const KINDS = [{ value: ANY, title: "Any source", detail: "" }, ...["photo", "sketch", "render", "flat art"].map((kind) => ({ value: kind, title: kind, detail: "" }))];
const MARKS = [{ value: ANY, title: "Any marks", detail: "" }, { value: "keep", title: "With kept takes", detail: "" }, { value: "maybe", title: "With maybes", detail: "" }];
const DAYS = [
  { value: ANY, title: "Any day", detail: "" },
  { value: "7", title: "Last 7 days", detail: "" },
  { value: "31", title: "Last 31 days", detail: "" },
  { value: "365", title: "Last year", detail: "" },
];
const ORDERS = [{ value: "touched", title: "Last touched", detail: "" }, { value: "name", title: "By name", detail: "" }, { value: "created", title: "Newest", detail: "" }];
const FIELD = "h-7 w-36 rounded-md border border-rule bg-sheet px-2 focus:border-amber focus:outline-none";

interface Props {
  asked: Found;
  total: number | undefined;
  onAsk: (part: Partial<Found>) => void;
}

/** What of the shelf is shown: words, kinds, marks, days; those that are put away. */
export function Finding({ asked, total, onAsk }: Props) {
  const field = useRef<HTMLInputElement>(null);
  useKeys({ "/": () => field.current?.focus() });
  const choose = (name: "kind" | "mark" | "days") => (value: string) => onAsk({ [name]: value === ANY ? undefined : value });
  return (
    <search className="mb-4 flex flex-wrap items-center gap-2">
      <label className="relative">
        <Search size={15} className="absolute top-1.5 left-2 text-faint" aria-hidden />
        <input
          ref={field}
          type="search"
          aria-label="Find studies"
          placeholder="Find by name, look, words, notes"
          title="Every word is found: names, files, looks, prompts, notes (/)"
          maxLength={200}
          value={asked.find}
          onChange={(event) => onAsk({ find: event.target.value })}
          className={`${FIELD} w-72 pl-7`}
        />
      </label>
      <span className="w-32"><Picker label="Kind of source" value={asked.kind ?? ANY} options={KINDS} onPick={choose("kind")} /></span>
      <span className="w-36"><Picker label="Marks" value={asked.mark ?? ANY} options={MARKS} onPick={choose("mark")} /></span>
      <span className="w-32"><Picker label="Touched" value={asked.days ?? ANY} options={DAYS} onPick={choose("days")} /></span>
      <span className="w-32"><Picker label="Order" value={asked.order} options={ORDERS} onPick={(value) => onAsk({ order: value as NonNullable<ShelfAsked["order"]> })} /></span>
      <label className="flex items-center gap-1.5"><input type="checkbox" checked={asked.archived} onChange={(event) => onAsk({ archived: event.target.checked })} /> put away</label>
      {isAsked(asked) && total !== undefined && (
        <span role="status" className="ml-auto flex items-center gap-2 text-faint">
          {total === 1 ? "one found" : `${total} found`}
          <button type="button" aria-label="Show all again" title="Show all again" onClick={() => onAsk({ find: "", kind: undefined, mark: undefined, days: undefined, archived: false })} className="rounded p-0.5 hover:bg-glow hover:text-ink"><X size={15} /></button>
        </span>
      )}
    </search>
  );
}
