import { Dices, LayoutGrid, Play } from "lucide-react";
import { useMemo, type ReactNode } from "react";
import type { Choices, PlanView, SourceView } from "../../api/client";
import { useNotices } from "../../common/notices";
import { disk, duration } from "../../primitives/words";
import { Button } from "../../ui/Button";
import { Gauge } from "../../ui/Gauge";
import { ListPicker, TickButton } from "../../ui/ListPicker";
import { lookSections } from "../../primitives/looks";
import { NumberField } from "../../ui/NumberField";
import { Given } from "./Given";
import { WordsRow } from "../words/WordsRow";
import { Explain } from "../explain/Explain";
import { EXPLAINED } from "../explain/words";
import { HoldEye } from "../holds/HoldEye";
import type { HoldName } from "../../api/insight";
import { FULL, useBands, setValue, turned, withList, withSpan, type Band } from "../../study/band";
import { axesOf, axisName, BAND_CONTROLS, infoOf, isHold, looksMadeFor, QUALITIES, valueIn, type Control, type ListControl } from "../../study/controls";
import type { Touched } from "../../study/touched";
import type { SpanSetting } from "../../primitives/span";
import { readStrength } from "../../primitives/strength";

interface Props {
  studyId: string;
  source: SourceView;
  sources: SourceView[];
  band: Band;
  choices: Choices;
  plan: PlanView | undefined;
  refusal: string | null;
  busy: boolean;
  looksOpen: boolean;
  describing: boolean;
  onRun: () => void;
  onTryLooks: () => void;
  onLooks: () => void;
  onDescribing: (open: boolean) => void;
  onTouch: (what: Touched) => void;
  onSource: (id: string) => void;
}

const SIZES = [256, 384, 512, 768, 1024, 1536, 2048];

/** The band: what the next sweep will do, and what it will cost. */
export function BandBar({ studyId, source, sources, onSource, band, choices, plan, refusal, busy, looksOpen, describing, onRun, onTryLooks, onLooks, onDescribing, onTouch }: Props) {
  const change = useBands((s) => s.change);
  const { recipe, spans } = band;
  const look = choices.looks.find((l) => l.name === recipe.look);

  const second = choices.looks.find((l) => l.name === recipe.second_look);
  const put = (control: Control) => (value: number) => change(studyId, setValue(control, value));
  const stretch = (control: Control) => (span: SpanSetting | null) => {
    const next = withSpan(band, control, span);
    if (next) change(studyId, (now) => withSpan(now, control, span) ?? now);
    else useNotices.getState().say(FULL);
  };
  const tick = (control: ListControl) => (values: string[]) => {
    const own = control === "size" ? values.map(Number) : values;
    if (withList(band, control, own)) change(studyId, (now) => withList(now, control, own) ?? now);
    else useNotices.getState().say(FULL);
  };
  const ticked = (control: ListControl) => (band.lists?.[control] ?? []).map(String);
  const put1 = (part: Partial<Band["recipe"]>) => change(studyId, (b) => ({ ...b, recipe: { ...b.recipe, ...part } }));
  const axes = axesOf(band);
  const lookOptions = useMemo(
    () => lookSections(choices.looks, source.kind, []).flatMap((section) => section.looks.map((l) => ({ value: l.name, title: l.title, detail: "", group: section.heading }))),
    [choices.looks, source.kind],
  );
  // Depth can be held by a guide, or on flat art by its own parts.
  const holdsDepth = source.has_depth || source.kind === "flat art" || (recipe.holds?.depth ?? 0) > 0 || spans.depth !== undefined;
  const gauge = (control: Control) => {
    const info = infoOf(control)!;
    const own = info.label.replace(/^(Hold|Look) /, "");
    return (
      <Gauge
        key={control}
        {...info}
        short={own.charAt(0).toUpperCase() + own.slice(1)}
        id={`control-${control}`}
        value={valueIn(recipe, control) as number}
        span={spans[control] ?? null}
        onValue={put(control)}
        onSpan={stretch(control)}
        read={control === "strength" ? readStrength : undefined}
        {...(EXPLAINED[control] && { beside: <Explain control={control} label={info.label} source={source} recipe={recipe} onTake={(v) => put(control)(Number(v))} /> })}
        {...(isHold(control) && { beside: <><HoldEye hold={control as HoldName} />{EXPLAINED[control] && !holdsDepth && <Explain control={control} label={info.label} source={source} recipe={recipe} onTake={(v) => put(control)(Number(v))} />}</>, usual: source.hold_ranges[control] as [number, number] | undefined })}
      />
    );
  };
  const heights = useMemo(
    () => SIZES.map((size) => {
      const scale = size / Math.max(source.framed_width, source.framed_height);
      return `${Math.max(8, Math.round(source.framed_width * scale))} \u00d7 ${Math.max(8, Math.round(source.framed_height * scale))}`;
    }),
    [source.framed_width, source.framed_height],
  );

  return (
    <section aria-label="Band" className="border-b border-rule bg-paper px-4 pt-2 pb-2.5">
      <div className="grid grid-cols-[190px_1.35fr_1.2fr_1fr_.8fr_206px] items-start gap-x-4">
        <div>
          <div className="flex h-6 items-center justify-between">
            <span className="flex items-center gap-1 font-semibold">
              Look
              <TickButton label="Look" options={lookOptions} value={recipe.look ?? ""} ticked={ticked("look")} onTick={tick("look")} />
            </span>
            <button
              type="button"
              disabled={busy || refusal !== null}
              title="One take in every look made for this kind of picture, with everything else as the band says (A)"
              onClick={onTryLooks}
              className="rounded px-1 text-[13px] text-amber underline-offset-2 hover:underline disabled:text-faint"
            >
              try all {looksMadeFor(choices.looks, source.kind).length}
            </button>
          </div>
          <button
            type="button"
            aria-expanded={looksOpen}
            aria-label={`Look: ${look?.title ?? recipe.look}`}
            title="Every look on this very picture (J)"
            onClick={onLooks}
            className={`flex h-7 w-full items-center justify-between rounded-md border bg-sheet px-2.5 font-semibold hover:border-faint ${looksOpen ? "border-amber" : "border-rule"}`}
          >
            <span className="truncate">{ticked("look").length > 1 ? `${ticked("look").length} looks` : (look?.title ?? recipe.look)}</span>
            <span className="flex items-center gap-1 text-faint"><LayoutGrid size={14} /></span>
          </button>
          <p className="mt-0.5 truncate text-xs text-faint">
            {second && (recipe.second_share ?? 0) > 0 ? <span className="text-teal">with {Math.round((recipe.second_share ?? 0) * 100)} % {second.title.toLowerCase()}</span> : look && (look.kinds.includes(source.kind) ? `try strength ${look.strengths.map((v) => v.toFixed(2)).join(" to ")}` : `not made for ${source.kind === "flat art" ? "flat art" : `a ${source.kind}`}`)}
          </p>
        </div>
        {gauge("strength")}
        {gauge("guidance")}
        <SeedControl studyId={studyId} band={band} beside={<Explain control="seed" label="Seed" source={source} recipe={recipe} onTake={(v) => put("seed")(Number(v))} />} onValue={put("seed")} onSpan={stretch("seed")} />
        {gauge("steps")}
        <div className="flex flex-col items-stretch gap-1">
          <Button weight="main" className="h-9" disabled={busy || refusal !== null || !plan} onClick={onRun}>
            <Play size={15} /> {plan && plan.takes > 1 ? `Run ${plan.takes} takes` : "Run"}
          </Button>
          <p className="h-4 truncate text-center text-xs leading-4 text-faint" data-testid="plan">
            {plan && !refusal && planWords(plan)}
          </p>
          {axes.length > 1 && (
            <button type="button" title="Turn the axes: what runs across, down and by page (Y)" data-testid="axes" onClick={() => change(studyId, turned)} className="-mt-1 h-4 truncate rounded text-center text-xs leading-4 text-amber hover:underline">
              {axesWords(axes)}
            </button>
          )}
        </div>
      </div>
      <div className={`mt-1.5 grid items-start gap-x-3 ${holdsDepth ? "grid-cols-[190px_repeat(6,1fr)_206px]" : "grid-cols-[190px_repeat(5,1fr)_206px]"}`}>
        <div className="flex flex-col gap-1">
          <div className="flex items-center">
            <span className="w-[54px] font-semibold">Size</span>
            <ListPicker
              label="Size"
              value={String(recipe.size)}
              options={SIZES.map((size, i) => ({ value: String(size), title: heights[i]!, detail: size > 1024 ? "slow; for finals" : "" }))}
              ticked={ticked("size")}
              onPick={(size) => put1({ size: Number(size) })}
              onTick={tick("size")}
            />
          </div>
          <div className="flex items-center">
            <span className="w-[54px] font-semibold">Quality</span>
            <ListPicker label="Quality" value={recipe.quality ?? "full"} options={QUALITIES} ticked={ticked("quality")} onPick={(quality) => put1({ quality: quality as "full" })} onTick={tick("quality")} />
          </div>
        </div>
        {BAND_CONTROLS.slice(4).filter((info) => info.control !== "depth" || holdsDepth).map((info) => gauge(info.control))}
        <div className="flex flex-col gap-1">
          <div className="flex items-center">
            <span className="flex w-[74px] items-center font-semibold">Sampler<Explain control="sampler" label="Sampler" source={source} recipe={recipe} titleOf={(v) => choices.samplers.find((s) => s.name === v)?.title ?? String(v)} onTake={(v) => put1({ sampler: String(v) })} /></span>
            <ListPicker label="Sampler" value={recipe.sampler ?? ""} options={choices.samplers.map((s) => ({ value: s.name, title: s.title, detail: "" }))} ticked={ticked("sampler")} onPick={(sampler) => put1({ sampler })} onTick={tick("sampler")} />
          </div>
          {sources.length > 1 && (
            <div className="flex items-center">
              <span className="w-[58px] font-semibold">Source</span>
              <ListPicker label="Source" value={source.id} options={sources.map((s) => ({ value: s.id, title: s.name, detail: `${s.width} \u00d7 ${s.height}` }))} ticked={ticked("source")} onPick={onSource} onTick={tick("source")} />
            </div>
          )}
          <Given studyId={studyId} source={source} onDepth={() => put("depth")(0.7)} onTouch={onTouch} />
        </div>
      </div>
      <WordsRow studyId={studyId} source={source} band={band} plan={plan} describing={describing} onDescribing={onDescribing} />
      {refusal && <p role="alert" className="mt-1.5 rounded bg-blush px-2 py-1 text-fault">{refusal}</p>}
    </section>
  );
}

/** Which axis runs across, which down, which by page. */
const axesWords = (axes: string[]): string =>
  axes.map((axis, i) => `${axisName(axis).replace(/^Hold /, "")} ${["\u2192", "\u2193", "by page"][i]}`).join("  ");

function planWords(plan: PlanView): string {
  const fresh = plan.takes - plan.existing;
  if (!fresh) return plan.takes === 1 ? "this take exists" : "all of them exist";
  const exist = plan.existing ? `, ${plan.existing} exist` : "";
  return `${fresh} new${exist}: ${duration(plan.seconds)}, ${disk(plan.bytes)}`;
}

/** A seed is a name, not an amount: typed or rolled; stretched, it is a run of seeds. */
function SeedControl({ studyId, band, beside, onValue, onSpan }: { studyId: string; band: Band; beside: ReactNode; onValue: (v: number) => void; onSpan: (s: SpanSetting | null) => void }) {
  const change = useBands((s) => s.change);
  const seed = band.recipe.seed ?? 1;
  const span = band.spans.seed ?? null;
  const run = span ? span.to - span.from + 1 : 1;
  const first = span ? span.from : seed;
  const start = (value: number) => {
    const whole = Math.min(Math.max(Math.round(value), 0), 4294967000);
    if (span) change(studyId, (b) => ({ ...setValue("seed", whole)(b), spans: { ...b.spans, seed: { from: whole, to: whole + run - 1, count: run } } }));
    else onValue(whole);
  };
  const length = (count: number) =>
    onSpan(count > 1 ? { from: first, to: first + Math.round(count) - 1, count: Math.round(count) } : null);
  return (
    <div className="relative">
      <Gauge
        id="control-seed"
        label={span ? "Seeds" : "Seed"}
        value={1}
        span={span ? { from: 1, to: run, count: run } : null}
        min={1}
        max={16}
        step={1}
        digits={0}
        ends={span ? [`${first} to ${first + run - 1}`, ""] : ["one", "a run"]}
        stretched={{ from: 1, to: 3, count: 3 }}
        beside={beside}
        onValue={(v) => length(v)}
        onSpan={(s) => length(s ? s.to : 1)}
        fields={
          <>
            <button type="button" aria-label="Roll the seed" title="Roll the seed" className="rounded p-0.5 text-faint hover:bg-glow hover:text-amber" onClick={() => start(Math.floor(Math.random() * 1e6))}>
              <Dices size={15} />
            </button>
            <NumberField label="Seed" value={first} digits={0} width="w-[72px]" onCommit={start} />
            {span && (
              <>
                <span className="text-faint">×</span>
                <NumberField label="Seeds in the run" value={run} digits={0} width="w-7" onCommit={(v) => length(Math.min(Math.max(v, 1), 16))} />
              </>
            )}
          </>
        }
      />
    </div>
  );
}
