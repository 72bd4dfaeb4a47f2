import { Download } from "lucide-react";
import { useState } from "react";
import type { StudyView } from "../../api/client";
import { useEnlargements, useExportPreview, type ExportAsked, type FinishChoices } from "../../api/finish";
import { useDebounced } from "../../common/useDebounced";
import { useKeys } from "../../common/keys";
import { asDpi, onPaper } from "../../primitives/finish";
import { counted, disk } from "../../primitives/words";
import { Button, KeyCap } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { Picker } from "../../ui/Picker";
import { Compare } from "./Compare";
import type { Pictured } from "./pictures";
import { saveFiles } from "./save";
import { SheetPart } from "./SheetPart";
import { useFinishSettings, wishOf } from "./settings";

interface Props {
  study: StudyView;
  pictures: Pictured[];
  first: Pictured;
  choices: FinishChoices;
}

const WAIT_MS = 350;
const AS_IT_IS = "as it is";
const MOST_SHOWN = 4;
const LEAST_SIDE = 16;

/** Pictures as files: format, size on paper, what is inside, names; how large the file is before it is made. */
export function Files({ study, pictures, first, choices }: Props) {
  const settings = useFinishSettings();
  const larger = useEnlargements(study.id);
  const [side, setSide] = useState<number | null>(null);
  const [which, setWhich] = useState(AS_IT_IS);
  const form = choices.formats.find((own) => own.name === settings.format) ?? choices.formats[0]!;
  const pattern = settings.pattern ?? choices.pattern;
  const done = (larger.data ?? []).filter((row) => row.state === "done");
  const names = [...new Set(done.filter((row) => pictures.some((p) => p.of.id === (row.take_id ?? row.source_id))).map((row) => `${row.way} ${Math.max(row.width, row.height)}`))];
  const title = (name: string) => choices.ways.find((way) => way.name === name.split(" ")[0])?.title ?? name;
  const of = pictures.map((picture) => {
    const row = done.find((own) => (own.take_id ?? own.source_id) === picture.of.id && `${own.way} ${Math.max(own.width, own.height)}` === which);
    return row ? { kind: "enlargement" as const, id: row.id } : picture.of;
  });
  const order: ExportAsked = { of, format: form.name, pattern, wish: wishOf(settings, form.sized ? side : null, form.deep) };
  const asked = JSON.parse(useDebounced(JSON.stringify(order), WAIT_MS)) as ExportAsked;
  const preview = useExportPreview(asked);
  const told = preview.data;
  const save = () => !preview.error && saveFiles(order);
  useKeys({ Enter: save });
  return (
    <div className="flex min-h-0 flex-1">
      <aside aria-label="Files" className="flex w-[340px] shrink-0 flex-col gap-2.5 overflow-y-auto border-r border-rule bg-paper p-3">
        <Line name="Format"><Picker label="Format" value={form.name} options={choices.formats.map((own) => ({ value: own.name, title: own.title, detail: own.says }))} onPick={(format) => settings.set({ format })} /></Line>
        {names.length > 0 && (
          <Line name="Which"><Picker label="Which size of it" value={names.includes(which) ? which : AS_IT_IS} options={[{ value: AS_IT_IS, title: "as it is", detail: "" }, ...names.map((name) => ({ value: name, title: `${title(name)}, ${name.split(" ")[1]} px`, detail: "" }))]} onPick={setWhich} /></Line>
        )}
        {form.sized && (
          <Line name="Size">
            <label className="flex items-center gap-1.5"><input type="checkbox" className="accent-amber" checked={side !== null} onChange={() => setSide(side === null ? Math.max(first.width, first.height) : null)} /> long side</label>
            <NumberField label="Long side of the file, pixels" value={side ?? Math.max(first.width, first.height)} digits={0} width="w-16" onCommit={(value) => setSide(Math.min(Math.max(Math.round(value), LEAST_SIDE), choices.most_side))} /> px
          </Line>
        )}
        {form.dpi && <Line name="On paper"><NumberField label="Dots per inch of the file" value={settings.dpi} digits={0} onCommit={(value) => settings.set({ dpi: asDpi(value) })} /> dpi</Line>}
        {form.lossy && (
          <Line name="Quality">
            <input type="range" aria-label="Quality" min={1} max={100} value={settings.quality} onChange={(event) => settings.set({ quality: Number(event.target.value) })} className="min-w-0 flex-1 accent-amber" />
            <span className="w-8 text-right font-semibold tabular-nums">{settings.quality}</span>
          </Line>
        )}
        {form.deep && (
          <Line name="Bits">
            {([8, 16] as const).map((depth) => <label key={depth} className="flex items-center gap-1"><input type="radio" name="depth" className="accent-amber" checked={settings.depth === depth} onChange={() => settings.set({ depth })} /> {depth}</label>)}
            <span className="text-[13px] text-faint">a channel</span>
          </Line>
        )}
        <Line name="Ground">
          <label className="flex items-center gap-1.5"><input type="checkbox" className="accent-amber" checked={settings.ground === null} onChange={() => settings.set({ ground: settings.ground === null ? "#ffffff" : null })} /> {form.alpha ? "clear stays clear" : "white behind what is clear"}</label>
          {settings.ground !== null && <input type="color" aria-label="Ground" value={settings.ground} onChange={(event) => settings.set({ ground: event.target.value })} className="h-6 w-8 rounded border border-rule" />}
        </Line>
        <Line name="Inside">
          <label className="flex items-center gap-1.5"><input type="checkbox" className="accent-amber" checked={settings.profile} onChange={() => settings.set({ profile: !settings.profile })} /> sRGB profile</label>
          <label className="flex items-center gap-1.5"><input type="checkbox" className="accent-amber" checked={settings.recipe} onChange={() => settings.set({ recipe: !settings.recipe })} /> recipe</label>
        </Line>
        <div className="flex flex-col gap-1">
          <label className="font-semibold" htmlFor="pattern">Names</label>
          <input id="pattern" value={pattern} maxLength={200} spellCheck={false} onChange={(event) => settings.set({ pattern: event.target.value })} className="rounded-md border border-rule bg-sheet px-2 py-1 focus:border-amber focus:outline-none" />
          <p className="flex flex-wrap gap-1 text-xs">
            {Object.entries(choices.fields).map(([name, says]) => <button key={name} type="button" title={says} onClick={() => settings.set({ pattern: `${pattern}-{${name}}` })} className="rounded border border-rule bg-sheet px-1 text-faint hover:text-ink">{`{${name}}`}</button>)}
          </p>
        </div>
        {preview.error && <p role="alert" className="text-fault">{preview.error.message}</p>}
        {preview.isPending && <p role="status" className="text-[13px] text-faint">Looking how large it is…</p>}
        {told && !preview.error && (
          <div role="status" aria-busy={preview.isFetching} className={`text-[13px] ${preview.isFetching ? "text-faint" : ""}`}>
            <ul className="m-0 list-none p-0">{told.names.map((name) => <li key={name} className="truncate font-semibold">{name}</li>)}</ul>
            {told.count > told.names.length && <p className="text-faint">and {told.count - told.names.length} more</p>}
            <p>{told.width} × {told.height} px{form.dpi && `, ${onPaper(told.width, told.height, settings.dpi)}`}</p>
            <p>{disk(told.bytes)}{told.count > 1 && ` each, about ${disk(told.total)} together`}</p>
          </div>
        )}
        <Button weight="main" className="shrink-0" disabled={preview.isError} onClick={save}>
          <Download size={15} /> {pictures.length > 1 ? `Save ${counted(pictures.length, "file")} as a ZIP` : "Save the file"} <KeyCap over>Enter</KeyCap>
        </Button>
        <SheetPart of={of} study={study.name} />
      </aside>
      <Compare shots={pictures.slice(0, MOST_SHOWN).map((picture) => ({ id: picture.of.id, label: picture.label, src: picture.src }))} picture={{ width: first.width, height: first.height }} />
    </div>
  );
}

function Line({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div className="flex min-h-7 items-center gap-2">
      <span className="w-16 shrink-0 text-faint">{name}</span>
      <div className="flex min-w-0 flex-1 items-center gap-2">{children}</div>
    </div>
  );
}
