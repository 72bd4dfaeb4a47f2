import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import type { StudyView } from "../../api/client";
import { GROUND, openHand, openLayers, stackKey, stackPicture, useStacks, type StackOpen } from "../../api/hand";
import { sayFault } from "../../common/notices";
import { SURROUND_CLASS, usePreferences } from "../../common/preferences";
import { usePlace } from "../../study/place";
import { asTouched } from "../../study/touched";
import { Button } from "../../ui/Button";
import { HandDesk } from "./HandDesk";
import { Rows, SourcePanels } from "./SourcePanels";

/** Where a picture is touched: its layers, which become a source, and what is done to a source as a whole. */
export function HandPlace({ study }: { study: StudyView }) {
  const { stack } = useParams();
  const [search] = useSearchParams();
  const surround = usePreferences((s) => s.surround);
  const source = usePlace((s) => study.sources.find((own) => own.id === s.source[study.id])) ?? study.sources.at(-1);
  const doing = stack ? null : asTouched(search.get("do"));
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <Rows studyId={study.id} doing={doing} />
      {doing && source && (
        <main className={`flex min-h-0 flex-1 flex-col ${SURROUND_CLASS[surround]}`}>
          <SourcePanels study={study} source={source} doing={doing} />
        </main>
      )}
      {!doing && (stack ? <HandDesk key={stack} study={study} id={stack} /> : <Choose study={study} />)}
    </div>
  );
}

const EMPTY = { width: 768, height: 512 };

/** What the Hand is opened on: the source of the desk at once, else what there is. */
function Choose({ study }: { study: StudyView }) {
  const surround = usePreferences((s) => s.surround);
  const source = usePlace((s) => study.sources.find((own) => own.id === s.source[study.id])) ?? study.sources.at(-1);
  const stacks = useStacks(study.id).data;
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [busy, setBusy] = useState(false);
  const shown = (opening: Promise<{ id: string }>) => {
    setBusy(true);
    opening
      .then((view) => {
        queries.setQueryData(stackKey(view.id), view);
        void queries.invalidateQueries({ queryKey: ["stacks", study.id] });
        void navigate(`/study/${study.id}/hand/${view.id}`);
      })
      .catch(sayFault)
      .finally(() => setBusy(false));
  };
  const open = (what: StackOpen) => shown(openHand(study.id, what));
  useEffect(() => {
    document.getElementById("hand-open-source")?.focus();
  }, []);
  return (
    <main aria-label="Hand" className={`flex min-h-0 flex-1 flex-col items-center justify-center gap-5 ${SURROUND_CLASS[surround]}`}>
      <h1 className="m-0 text-lg font-semibold">What do you want to touch?</h1>
      <div className="flex flex-wrap justify-center gap-2">
        {source && <Button id="hand-open-source" weight="main" disabled={busy} onClick={() => open({ source: source.id, colour: GROUND })}>The source {source.name}</Button>}
        <Button disabled={busy} onClick={() => open({ ...EMPTY, colour: GROUND })}>An empty picture, {EMPTY.width} x {EMPTY.height}</Button>
        <label className="inline-flex h-8 cursor-pointer items-center rounded-md border border-rule bg-sheet px-3 font-semibold text-ink hover:border-faint">
          A file with layers (OpenRaster)…
          <input type="file" accept=".ora,image/openraster" className="sr-only" onChange={(event) => event.target.files?.[0] && shown(openLayers(study.id, event.target.files[0]))} />
        </label>
      </div>
      {Boolean(stacks?.length) && (
        <section aria-label="Touched before" className="flex max-w-[900px] flex-wrap justify-center gap-3">
          {stacks!.map((card) => (
            <button key={card.id} type="button" onClick={() => void navigate(`/study/${study.id}/hand/${card.id}`)} className="flex w-[180px] flex-col gap-1 rounded-lg border border-rule bg-sheet p-2 text-left text-ink hover:border-amber">
              <img src={stackPicture(card.id, card.revision)} alt="" className="h-[112px] w-full rounded bg-mid object-contain" />
              <span className="truncate text-[13px] font-semibold">{card.name}</span>
              <span className="text-xs text-faint">{card.layers} {card.layers === 1 ? "layer" : "layers"}, {card.width} x {card.height}</span>
            </button>
          ))}
        </section>
      )}
    </main>
  );
}
