import { useMemo, useState } from "react";
import { useTrace, type TraceAsked } from "../../api/finish";
import { recoloured, withNodes } from "../../primitives/finish";
import { disk } from "../../primitives/words";
import { useDebounced } from "../../common/useDebounced";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { Compare } from "./Compare";
import type { Pictured } from "./pictures";

const WAYS: { value: NonNullable<TraceAsked["how"]> | "kind"; title: string; says: string }[] = [
  { value: "kind", title: "By its kind", says: "sketches by lines, all else by areas" },
  { value: "areas", title: "Areas", says: "flat colours that meet without gaps" },
  { value: "lines", title: "Lines", says: "strokes by their middle, with widths" },
  { value: "outlines", title: "Outlines", says: "ink as filled shapes, nearest to what is drawn" },
];
const MOST_COLOURS = 32;
/** Of the long side, how large a node is shown. */
const NODE = 1 / 300;
const WAIT_MS = 350;

/** A picture as curves, beside it; its colours can be others. */
export function Traced({ first }: { first: Pictured }) {
  const [how, setHow] = useState<(typeof WAYS)[number]["value"]>("kind");
  const [colours, setColours] = useState<number | null>(null);
  const [others, setOthers] = useState<Record<string, string>>({});
  const [nodes, setNodes] = useState(false);
  const asked = useDebounced(useMemo(() => ({ of: first.of, how: how === "kind" ? null : how, colours }), [first.of, how, colours]), WAIT_MS);
  const traced = useTrace(asked);
  const view = traced.data;
  const svg = view && recoloured(view.svg, others);
  const shown = svg && addressOf(nodes ? withNodes(svg, Math.max(view.width, view.height) * NODE) : svg);
  const save = () => {
    if (!svg) return;
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([svg], { type: "image/svg+xml" }));
    link.download = `${first.label.replace(/[^\w]+/g, "-")}.svg`;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  const areas = (view?.how ?? how) === "areas";
  return (
    <div className="flex min-h-0 flex-1">
      <aside aria-label="Traced" className="flex w-[320px] shrink-0 flex-col gap-3 overflow-y-auto border-r border-rule bg-paper p-3">
        <fieldset className="flex flex-col gap-1">
          <legend className="mb-1 font-semibold">As what</legend>
          {WAYS.map((way) => (
            <label key={way.value} className="flex items-start gap-2 rounded px-1 py-0.5 hover:bg-glow">
              <input type="radio" name="how" className="mt-1 accent-amber" checked={how === way.value} onChange={() => setHow(way.value)} />
              <span>{way.title}<span className="block text-[13px] leading-4 text-faint">{way.says}</span></span>
            </label>
          ))}
        </fieldset>
        {areas && (
          <div className="flex items-center gap-1.5">
            <label className="flex items-center gap-1.5"><input type="checkbox" className="accent-amber" checked={colours !== null} onChange={() => setColours(colours === null ? Math.max(view?.groups.length ?? 8, 2) : null)} /> at most</label>
            <NumberField label="Colours at most" value={colours ?? view?.groups.length ?? 8} digits={0} onCommit={(value) => setColours(Math.min(Math.max(Math.round(value), 2), MOST_COLOURS))} />
            <span className="text-faint">colours, 2 to {MOST_COLOURS}</span>
          </div>
        )}
        <label className="flex items-center gap-1.5"><input type="checkbox" className="accent-amber" checked={nodes} onChange={() => setNodes(!nodes)} /> show nodes</label>
        {traced.isFetching && <p role="status" className="text-faint">Tracing…</p>}
        {traced.error && <p role="alert" className="text-fault">{traced.error.message}</p>}
        {view && (
          <>
            <p className="text-[13px] text-faint">{view.nodes} nodes, {disk(view.bytes)}</p>
            <ul aria-label="Colours" className="m-0 flex list-none flex-col gap-1 p-0">
              {view.groups.map((group) => (
                <li key={group.name} className="flex items-center gap-2">
                  <input type="color" aria-label={`Colour of ${group.name}`} value={others[group.colour] ?? group.colour} onChange={(event) => setOthers({ ...others, [group.colour]: event.target.value })} className="h-6 w-8 cursor-pointer rounded border border-rule bg-sheet" />
                  <span>{group.name}</span>
                  <span className="ml-auto text-[13px] text-faint">{group.shapes} {group.shapes === 1 ? "shape" : "shapes"}</span>
                </li>
              ))}
            </ul>
            {!view.groups.length && <p className="text-faint">Nothing is drawn here; try another way.</p>}
          </>
        )}
        <div className="flex gap-1.5">
          <Button weight="main" disabled={!svg} onClick={save}>Save as SVG</Button>
          {Object.keys(others).length > 0 && <Button onClick={() => setOthers({})}>Its own colours</Button>}
        </div>
      </aside>
      <Compare shots={[{ id: "picture", label: "the picture", src: first.src }, ...(shown ? [{ id: "traced", label: nodes ? "traced, with nodes" : "traced", src: shown }] : [])]} picture={{ width: first.width, height: first.height }} />
    </div>
  );
}

/** An address that holds an SVG's text. */
const addressOf = (svg: string) => `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
