import { Trash2, X } from "lucide-react";
import { useState } from "react";
import type { StudyView } from "../../api/client";
import { enlargedImage, useEnd, useEnlarge, useEnlargements, type EnlargementView, type FinishChoices } from "../../api/finish";
import { useKeys } from "../../common/keys";
import { sayFault } from "../../common/notices";
import { sizedTo } from "../../primitives/finish";
import { counted, disk, duration } from "../../primitives/words";
import { Button, KeyCap } from "../../ui/Button";
import { Compare } from "./Compare";
import type { Pictured } from "./pictures";
import { useFinishSettings } from "./settings";
import { SizeFields } from "./SizeFields";

interface Props {
  study: StudyView;
  pictures: Pictured[];
  first: Pictured;
  choices: FinishChoices;
}

const MOST_COMPARED = 4;

/** Pictures made larger in several ways, and those ways compared on this very picture. */
export function Larger({ study, pictures, first, choices }: Props) {
  const settings = useFinishSettings();
  const enlarge = useEnlarge(study.id);
  const all = useEnlargements(study.id);
  const natural = Math.max(first.width, first.height);
  const [side, setSide] = useState(Math.min(2 * natural, choices.most_side));
  const ways = choices.ways.filter((way) => settings.ways.includes(way.name) && (!way.again || first.of.kind === "take"));
  const rows = (all.data ?? []).filter((row) => (first.of.kind === "take" ? row.take_id : row.source_id) === first.of.id);
  const here = rows.filter((row) => Math.max(row.width, row.height) === side);
  const tick = (name: string) => settings.set({ ways: settings.ways.includes(name) ? settings.ways.filter((own) => own !== name) : [...settings.ways, name] });
  const run = () => {
    if (!ways.length || enlarge.isPending) return;
    const of = (kind: string) => pictures.filter((picture) => picture.of.kind === kind).map((picture) => picture.of.id);
    const size = pictures.length === 1 ? { side } : { factor: side / natural };
    enlarge.mutate({ takes: of("take"), sources: of("source"), ways: ways.map((way) => way.name), ...size }, { onError: sayFault });
  };
  useKeys({ Enter: run });
  const titleOf = (name: string) => choices.ways.find((way) => way.name === name)?.title ?? name;
  const done = here.filter((row) => row.state === "done").sort((a, b) => choices.ways.findIndex((w) => w.name === a.way) - choices.ways.findIndex((w) => w.name === b.way)).slice(0, MOST_COMPARED);
  const shots = [{ id: first.of.id, label: `as it is, ${natural} px`, src: first.src }, ...done.map((row) => ({ id: row.id, label: titleOf(row.way), src: enlargedImage(row.id) }))];
  return (
    <div className="flex min-h-0 flex-1">
      <aside aria-label="Larger" className="flex w-[320px] shrink-0 flex-col gap-3 overflow-y-auto border-r border-rule bg-paper p-3">
        <SizeFields width={first.width} height={first.height} side={side} most={choices.most_side} dpi={settings.dpi} onSide={setSide} onDpi={(dpi) => settings.set({ dpi })} />
        <fieldset className="flex flex-col gap-1">
          <legend className="mb-1 font-semibold">Ways, beside one another</legend>
          {choices.ways.map((way) => {
            const cannot = way.again && first.of.kind !== "take";
            return (
              <label key={way.name} className={`flex items-start gap-2 rounded px-1 py-0.5 ${cannot ? "text-faint" : "hover:bg-glow"}`} title={cannot ? "Only a take can be painted again: a source has no recipe" : undefined}>
                <input type="checkbox" className="mt-1 accent-amber" checked={settings.ways.includes(way.name)} disabled={cannot} onChange={() => tick(way.name)} />
                <span>{way.title}<span className="block text-[13px] leading-4 text-faint">{way.says}</span></span>
              </label>
            );
          })}
        </fieldset>
        <Button weight="main" className="shrink-0" disabled={!ways.length || enlarge.isPending} onClick={run}>
          {pictures.length > 1 ? `Make ${counted(pictures.length, "picture")} larger` : "Make it larger"} <KeyCap over>Enter</KeyCap>
        </Button>
        {!ways.length && <p className="text-[13px] text-faint">Tick a way first.</p>}
        <Made study={study} rows={rows} titleOf={titleOf} onShow={(row) => setSide(Math.max(row.width, row.height))} />
      </aside>
      <Compare key={side} shots={shots} picture={sizedTo(first.width, first.height, side)} />
    </div>
  );
}

/** What was made of this picture, or is being made. */
function Made({ study, rows, titleOf, onShow }: { study: StudyView; rows: EnlargementView[]; titleOf: (way: string) => string; onShow: (row: EnlargementView) => void }) {
  const end = useEnd(study.id);
  if (!rows.length) return <p className="text-[13px] text-faint">Nothing was made larger yet. What is made stays here and is made only once.</p>;
  return (
    <ul aria-label="Made larger" className="m-0 flex list-none flex-col gap-1.5 p-0">
      {rows.map((row) => {
        const open = row.state === "queued" || row.state === "running";
        return (
          <li key={row.id} className="rounded-md border border-rule bg-sheet px-2 py-1">
            <div className="flex items-center gap-1.5">
              <button type="button" className="min-w-0 flex-1 truncate text-left font-semibold hover:text-amber" title="Show it" onClick={() => onShow(row)}>{titleOf(row.way)}, {row.width} × {row.height}</button>
              <button type="button" aria-label={open ? "Stop" : "Let it go"} title={open ? "Stop" : "Let it go; it can be made again"} onClick={() => end.mutate(row, { onError: sayFault })} className="rounded p-1 text-faint hover:bg-glow hover:text-ink">{open ? <X size={14} /> : <Trash2 size={14} />}</button>
            </div>
            {open && <Progress row={row} />}
            {row.state === "done" && <p className="text-[13px] text-faint" title="Of the composition of what it came from, and structure that was not there">kept {row.figures?.kept.toFixed(0)}, added {row.figures?.added.toFixed(0)}, {disk(row.bytes)}{row.seconds !== null && `, ${duration(row.seconds)}`}</p>}
            {row.state === "stopped" && <p className="text-[13px] text-faint">Stopped.</p>}
            {row.fault && <p role="alert" className="text-[13px] text-fault">{row.fault}</p>}
          </li>
        );
      })}
    </ul>
  );
}

function Progress({ row }: { row: EnlargementView }) {
  const left = row.expected * (1 - row.done / 100);
  return (
    <div>
      <div role="progressbar" aria-label="Made" aria-valuenow={row.done} aria-valuemin={0} aria-valuemax={100} className="h-1 rounded-full bg-rule"><div className="h-1 rounded-full bg-teal" style={{ width: `${row.done}%` }} /></div>
      <p className="text-[13px] text-faint">{row.state === "queued" ? `waits, about ${duration(row.expected)}` : `${row.done} %, about ${duration(left)} left`}</p>
    </div>
  );
}
