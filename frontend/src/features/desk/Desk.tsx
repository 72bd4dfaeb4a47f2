import { useEffect, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import type { Choices, Kind, Recipe, RowTipView, StudyView, SweepRequest, SweepView } from "../../api/client";
import { useFinish, useKind, usePlan, useRunSweep } from "../../api/queries";
import { sayFault, useNotices } from "../../common/notices";
import { SURROUND_CLASS, usePreferences } from "../../common/preferences";
import { useKeys } from "../../common/keys";
import { useDebounced } from "../../common/useDebounced";
import { Picker } from "../../ui/Picker";
import { FacesPanel } from "../faces/FacesPanel";
import { FramePanel } from "../frame/FramePanel";
import { LooksPanel } from "../looks/LooksPanel";
import { RecolourPanel } from "../recolour/RecolourPanel";
import { MixPanel } from "../mix/MixPanel";
import { RegionPanel } from "../region/RegionPanel";
import type { Touched } from "../../study/touched";
import { LiveView } from "../live/LiveView";
import { bandOf, setValue, turned, useBands, type Band } from "../../study/band";
import { BandBar } from "./BandBar";
import { nextZoom, type Spot } from "../../primitives/spot";
import { readSettings } from "../../primitives/settings";
import { finerSpan } from "../../primitives/tip";
import { BAND_CONTROLS, changedBy, infoOf, looksRequest, requestOf } from "../../study/controls";
import { Sheet } from "../sheet/Sheet";
import { SheetHead } from "../sheet/SheetHead";
import { useSheet } from "../../study/useSheet";
import { ChosenPanel } from "../take/ChosenPanel";
import { fromTake } from "../../study/fromTake";
import { TakePanel } from "../take/TakePanel";
import { TidePanel } from "../tide/TidePanel";
import { useStudyDesk } from "../../study/useStudyDesk";

type Region = { left: number; top: number; right: number; bottom: number };

const DEBOUNCE = 180;
const NO_KEYS = {};

/** Where the sweep lives. */
export function Desk({ study, choices }: { study: StudyView; choices: Choices }) {
  const desk = useStudyDesk(study);
  const { sweep, take, picked } = desk;
  const bands = useBands();
  const { begin, change } = bands;
  const band = bands.bands[study.id];
  const source = desk.next;
  const surround = usePreferences((s) => s.surround);

  useEffect(() => {
    const last = study.sweeps.at(-1);
    // A new study begins with what most artists do first: the whole range of strengths, few and cheap.
    const first = infoOf("strength")!.stretched!;
    begin(study.id, last ? { recipe: last.recipe, spans: {} } : { recipe: source.begin, spans: { strength: first } });
  }, [begin, source.begin, study.id, study.sweeps]);
  const [search] = useSearchParams();
  const [live, setLive] = useState(search.has("live"));
  const [touching, setTouching] = useState<Touched | null>(null);
  const [looksOpen, setLooksOpen] = useState(false);
  const [describing, setDescribing] = useState(false);
  const [reading, setReading] = useState(false);
  const [trying, setTrying] = useState(false);
  const finish = useFinish(study.id);
  const sheet = useSheet(study.id, sweep, desk.marks, picked, desk.pick);
  const [spot, setSpot] = useState<Spot | null>(null);
  const pointed = useRef({ x: 0.5, y: 0.5 });
  const [region, setRegion] = useState<Region | null>(null);

  const wanted = useMemo(() => (band ? requestOf(source.id, band.recipe, band) : null), [band, source.id]);
  const request = useDebounced(wanted, DEBOUNCE);
  const plan = usePlan(request);
  const runSweep = useRunSweep(study.id);
  const start = (asked: SweepRequest | null) => {
    if (!asked || runSweep.isPending) return;
    runSweep.mutate(asked, {
      onSuccess: (made) => {
        desk.showSweep(study.id, made.id);
        desk.pick(undefined);
        if (made.takes.every((t) => t.state === "done")) useNotices.getState().say("All of these takes exist already; here they are.");
      },
      onError: sayFault,
    });
  };

  const closeLook = () => setSpot((now) => (now ? null : { ...pointed.current, zoom: 2 }));
  const run = () => {
    setLive(false);
    start(wanted);
  };
  const renderLive = () => {
    if (!band) return;
    setLive(false);
    start(requestOf(source.id, band.recipe, { spans: {} }));
  };
  const carryOn = () => desk.carryOn(() => setLive(true));
  const tryLooks = () => band && start(looksRequest(source.id, band.recipe, choices.looks, source.kind));

  const finer = (values: RowTipView["values"], low: number, high: number) => {
    if (!sweep) return;
    const own = Object.entries(values).reduce((recipe, [control, value]) => changedBy(recipe, control, value), sweep.recipe);
    const seeds = sweep.spans.find((span) => span.control === "seed");
    bands.change(study.id, () => ({ recipe: seeds ? { ...own, seed: Number(seeds.values[0]) } : own, spans: { strength: finerSpan(low, high) } }));
    useNotices.getState().say("The band holds the finer sweep; press Run.");
  };

  // Settings copied as text, here or from a saved take, go into the band.
  useEffect(() => {
    const paste = (event: ClipboardEvent) => {
      const text = event.clipboardData?.getData("text/plain") ?? "";
      const typing = event.target instanceof HTMLElement && event.target.matches("input, textarea");
      const found = typing ? null : readSettings(text);
      if (!found) return;
      change(study.id, (b) => ({ recipe: { ...b.recipe, ...found }, spans: {} }));
      useNotices.getState().say("The pasted settings stand in the band.");
    };
    window.addEventListener("paste", paste);
    return () => window.removeEventListener("paste", paste);
  }, [change, study.id]);

  const chosen = sweep?.takes.filter((t) => sheet.chosen.includes(t.id)) ?? [];
  const several = chosen.length > 1;
  const finishChosen = () =>
    finish.mutate(chosen.map((t) => t.id), { onSuccess: (made) => desk.showSweep(study.id, made.id), onError: sayFault });
  const again = (of: SweepView) => {
    bands.change(study.id, () => bandOf(of));
    useNotices.getState().say("The settings of that sweep stand in the band.");
  };
  const showMixed = (sourceId: string) => {
    desk.showSource(sourceId);
    setTouching(null);
    setLive(true);
  };
  const toBench = () => {
    const first = several ? chosen.find((t) => t.state === "done") : take;
    if (first?.state === "done") desk.open(first.id);
  };
  const focus = (control: string) => () => document.getElementById(`control-${control}`)?.focus();

  useKeys(
    touching ? NO_KEYS : {
      i: () => setTouching("frame"),
      u: () => setTouching("recolour"),
      p: () => setTouching("region"),
      h: () => setTouching("faces"),
      d: () => setTouching("mix"),
      j: () => setLooksOpen((open) => !open),
      z: () => setDescribing((open) => !open),
      ...desk.keys,
      r: run,
      a: tryLooks,
      n: carryOn,
      l: () => sweep && setLive((on) => !on),
      f: () => (live || !sweep) && renderLive(),
      v: () => setReading((on) => !on),
      Enter: toBench,
      Escape: () => (spot ? setSpot(null) : several ? sheet.clear() : desk.pick(undefined)),
      e: closeLook,
      "+": () => spot && setSpot({ ...spot, zoom: nextZoom(spot.zoom, true) }),
      "-": () => spot && setSpot({ ...spot, zoom: nextZoom(spot.zoom, false) }),
      ...sheet.keys,
      t: () => take?.state === "done" && setTrying(true),
      y: (event) => (event.shiftKey ? sheet.turn() : change(study.id, turned)),
      o: () => sweep && again(sweep),
      "ctrl+a": sheet.chooseAll,
      "ctrl+z": () => bands.undo(study.id),
      "ctrl+y": () => bands.redo(study.id),
      w: (event) => {
        event.preventDefault();
        document.getElementById("words-prompt")?.focus();
      },
      ...Object.fromEntries(BAND_CONTROLS.map(({ control }, i) => [String((i + 1) % 10), focus(control)])),
    },
    desk.keysUp,
  );

  if (!band) return null;
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <BandBar
        studyId={study.id}
        source={source}
        sources={study.sources}
        onSource={desk.showSource}
        band={band}
        choices={choices}
        plan={plan.data}
        refusal={plan.error?.message ?? null}
        busy={runSweep.isPending}
        looksOpen={looksOpen}
        describing={describing}
        onRun={run}
        onTryLooks={tryLooks}
        onLooks={() => setLooksOpen((open) => !open)}
        onDescribing={setDescribing}
        onTouch={setTouching}
      />
      <div className="flex min-h-0 flex-1">
        {looksOpen && !touching && (
          <LooksPanel
            source={source}
            looks={choices.looks}
            look={band.recipe.look ?? ""}
            second={band.recipe.second_look ?? null}
            share={band.recipe.second_share ?? 0}
            strength={band.recipe.strength ?? 0.5}
            onLook={(look) => bands.change(study.id, putIn({ look }))}
            onSecond={(name) => bands.change(study.id, putIn({ second_look: name, second_share: name ? band.recipe.second_share || 0.35 : 0 }))}
            onShare={(share) => bands.change(study.id, putIn({ second_share: share }))}
            onStrength={([from, to]) => bands.change(study.id, (b) => (b.spans.strength ? { ...b, spans: { ...b.spans, strength: { from, to, count: b.spans.strength.count } } } : setValue("strength", Number(((from + to) / 2).toFixed(2)))(b)))}
            onClose={() => setLooksOpen(false)}
          />
        )}
        <main className={`flex min-w-0 flex-1 flex-col ${SURROUND_CLASS[surround]}`}>
          {touching === "frame" && <FramePanel key={source.frame_key} studyId={study.id} source={source} size={band.recipe.size ?? 512} onSize={(size) => bands.change(study.id, putIn({ size }))} onClose={() => setTouching(null)} />}
          {touching === "recolour" && <RecolourPanel studyId={study.id} source={source} onClose={() => setTouching(null)} />}
          {touching === "region" && <RegionPanel key={source.region_key} studyId={study.id} source={source} onClose={() => setTouching(null)} />}
          {touching === "faces" && <FacesPanel key={source.faces_key} studyId={study.id} source={source} onClose={() => setTouching(null)} />}
          {touching === "mix" && <MixPanel studyId={study.id} sources={study.sources} takes={chosen.filter((t) => t.state === "done")} source={source} onMade={showMixed} onClose={() => setTouching(null)} />}
          {!sweep && !touching && <Begin study={study} choices={choices} />}
          {sweep && !live && !touching && (
            <SheetHead
              study={study}
              sweep={sweep}
              choices={choices}
              reading={reading}
              spot={spot}
              onSpot={closeLook}
              sheet={sheet}
              onSweep={(id) => desk.showSweep(study.id, id)}
              onAgain={again}
              onMissing={() => start({ source_id: sweep.source_id, recipe: sweep.recipe as unknown as Record<string, unknown>, spans: sweep.spans })}
              onReading={() => setReading(!reading)}
              onLive={() => setLive(true)}
            />
          )}
          {touching ? null : sweep && desk.source && !live ? (
            <>
              <Sheet
                sweep={sweep}
                source={desk.source}
                sources={study.sources}
                arranged={sheet.arranged}
                marks={desk.marks}
                picked={picked}
                chosen={sheet.chosen}
                blinking={desk.blinking}
                reading={reading}
                region={region}
                spot={spot}
                onSpot={setSpot}
                onPoint={(x, y) => (pointed.current = { x, y })}
                onPick={sheet.click}
                onOpen={desk.open}
                onColumns={sheet.onColumns}
              />
              <TidePanel
                study={study}
                sweep={sweep}
                arranged={sheet.arranged}
                marks={desk.marks}
                picked={picked}
                chosen={sheet.chosen}
                onPick={desk.pick}
                onElsewhere={(take, of) => {
                  if (of !== sweep.id) desk.showSweep(study.id, of);
                  desk.pick(take);
                }}
                onChoose={sheet.choose}
                onRegion={setRegion}
                onFiner={finer}
              />
            </>
          ) : (
            <LiveView
              source={source}
              sources={study.sources}
              onSource={desk.showSource}
              recipe={band.recipe}
              blinking={desk.blinking}
              busy={runSweep.isPending}
              onStrength={(value) => bands.change(study.id, setValue("strength", value))}
              onRender={renderLive}
              onClose={sweep && (() => setLive(false))}
              onTouch={setTouching}
            />
          )}
        </main>
        {several ? <ChosenPanel takes={chosen} marks={desk.marks} onMark={desk.toggleMark} onBench={toBench} onFinish={finishChosen} onMix={() => setTouching("mix")} onClear={sheet.clear} /> : <TakePanel
          take={take}
          source={desk.source ?? source}
          mark={take && desk.marks.get(take.id)}
          choices={choices}
          onMark={desk.setMark}
          onOpen={() => desk.open()}
          onCopy={desk.copy}
          onCarryOn={carryOn}
          tries={take && desk.source && fromTake(take, desk.source.id, study.sources, choices.looks, desk.source.kind)}
          onTry={(item) => start(item.request)}
          tryOpen={trying}
          onTryOpen={setTrying}
          empty={sweep ? "Pick a take to judge it: keep, maybe or drop. Hold B to see the source in its place; Enter takes it to the bench." : "Takes are judged here, once there are some."}
        />}
      </div>
    </div>
  );
}

const putIn = (part: Partial<Recipe>) => (band: Band): Band => ({ ...band, recipe: { ...band.recipe, ...part } });

/** Over a new study: what the picture is, and what to do first. */
function Begin({ study, choices }: { study: StudyView; choices: Choices }) {
  const source = study.sources.at(-1)!;
  const kind = useKind(study.id);
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1 bg-paper px-4 py-2 text-ink">
      <span className="font-semibold">
        {source.name}, {source.width} × {source.height}
      </span>
      <span className="flex items-center gap-1.5" title="A guess: it decides which looks come first and where the holds begin">
        Looks like
        <span className="w-[108px]">
          <Picker
            label="Kind of picture"
            value={source.kind}
            options={choices.kinds.map((name) => ({ value: name, title: name, detail: "" }))}
            onPick={(name) => kind.mutate({ sourceId: source.id, kind: name as Kind }, { onError: sayFault })}
          />
        </span>
      </span>
      {(source.notes ?? []).map((note) => (
        <span key={note} className="text-[13px] text-faint">{note}</span>
      ))}
      <span className="ml-auto text-[13px] text-faint">
        The draft follows every control; Run makes the takes.
      </span>
    </div>
  );
}
