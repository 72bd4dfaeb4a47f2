import { Dices, Play } from "lucide-react";
import { useMemo } from "react";
import type { Choices, PlanView, SourceView } from "../../api/client";
import { useNotices } from "../../app/notices";
import { disk, duration } from "../../primitives/words";
import { Button } from "../../ui/Button";
import { Gauge } from "../../ui/Gauge";
import { Picker } from "../../ui/Picker";
import { NumberField } from "../../ui/NumberField";
import { WordsRow } from "./WordsRow";
import { useBands, setValue, withSpan, type Band } from "./band";
import { byCategory, CONTROLS, infoOf, valueIn, type Control } from "./controls";
import type { SpanSetting } from "../../primitives/span";

interface Props {
  studyId: string;
  source: SourceView;
  band: Band;
  choices: Choices;
  plan: PlanView | undefined;
  refusal: string | null;
  busy: boolean;
  onRun: () => void;
  onTryLooks: () => void;
}

const SIZES = [256, 384, 512, 768, 1024, 1536, 2048];

/** The band: what the next sweep will do, and what it will cost. */
export function BandBar({ studyId, source, band, choices, plan, refusal, busy, onRun, onTryLooks }: Props) {
  const change = useBands((s) => s.change);
  const { recipe, spans } = band;
  const look = choices.looks.find((l) => l.name === recipe.look);

  const put = (control: Control) => (value: number) => change(studyId, setValue(control, value));
  const stretch = (control: Control) => (span: SpanSetting | null) => {
    const next = withSpan(band, control, span);
    if (next) change(studyId, (now) => withSpan(now, control, span) ?? now);
    else useNotices.getState().say("Two controls are stretched already; make one of them a single value first.");
  };
  const gauge = (control: Control) => {
    const info = infoOf(control)!;
    return (
      <Gauge
        key={control}
        {...info}
        id={`control-${control}`}
        value={valueIn(recipe, control) as number}
        span={spans[control] ?? null}
        onValue={put(control)}
        onSpan={stretch(control)}
      />
    );
  };
  const heights = useMemo(
    () => SIZES.map((size) => {
      const scale = size / Math.max(source.width, source.height);
      return `${Math.max(8, Math.round(source.width * scale))} \u00d7 ${Math.max(8, Math.round(source.height * scale))}`;
    }),
    [source.width, source.height],
  );

  return (
    <section aria-label="Band" className="border-b border-rule bg-paper px-4 pt-2 pb-2.5">
      <div className="grid grid-cols-[190px_1.5fr_1fr_1fr_.8fr_168px] items-start gap-x-6">
        <div>
          <div className="flex h-6 items-center justify-between">
            <span className="font-semibold">Look</span>
            <button
              type="button"
              disabled={busy || refusal !== null}
              title="One take in every look, with everything else as the band says (A)"
              onClick={onTryLooks}
              className="rounded px-1 text-[13px] text-amber underline-offset-2 hover:underline disabled:text-faint"
            >
              try all {choices.looks.length}
            </button>
          </div>
          <Picker
            label="Look"
            value={recipe.look ?? ""}
            options={byCategory(choices.looks).map((l) => ({ value: l.name, title: l.title, detail: l.description, group: l.category }))}
            onPick={(name) => change(studyId, (b) => ({ ...b, recipe: { ...b.recipe, look: name } }))}
          />
          <p className="mt-0.5 text-xs text-faint">
            {look && `try strength ${look.strengths.map((v) => v.toFixed(2)).join(" to ")}`}
          </p>
        </div>
        {gauge("strength")}
        {gauge("guidance")}
        <SeedControl studyId={studyId} band={band} onValue={put("seed")} onSpan={stretch("seed")} />
        {gauge("steps")}
        <div className="flex flex-col items-stretch gap-1">
          <Button weight="main" className="h-9" disabled={busy || refusal !== null || !plan} onClick={onRun}>
            <Play size={15} /> {plan && plan.takes > 1 ? `Run ${plan.takes} takes` : "Run"}
          </Button>
          <p className="h-4 truncate text-center text-xs leading-4 text-faint" data-testid="plan">
            {plan && !refusal && planWords(plan)}
          </p>
        </div>
      </div>
      <div className="mt-1.5 grid grid-cols-[190px_1fr_1fr_1fr_1fr_168px] items-start gap-x-6">
        <div className="flex items-center gap-2 pt-0.5">
          <span className="font-semibold">Size</span>
          <Picker
            label="Size"
            value={String(recipe.size)}
            options={SIZES.map((size, i) => ({ value: String(size), title: heights[i]!, detail: size > 1024 ? "slow; for finals" : "" }))}
            onPick={(size) => change(studyId, (b) => ({ ...b, recipe: { ...b.recipe, size: Number(size) } }))}
          />
        </div>
        {CONTROLS.slice(4).map((info) => gauge(info.control))}
        <div className="flex items-center gap-2 pt-0.5">
          <span className="font-semibold">Sampler</span>
          <Picker
            label="Sampler"
            value={recipe.sampler ?? ""}
            options={choices.samplers.map((s) => ({ value: s.name, title: s.title, detail: "" }))}
            onPick={(sampler) => change(studyId, (b) => ({ ...b, recipe: { ...b.recipe, sampler } }))}
          />
        </div>
      </div>
      <WordsRow studyId={studyId} band={band} plan={plan} />
      {refusal && <p role="alert" className="mt-1.5 rounded bg-[#f8e4e0] px-2 py-1 text-fault">{refusal}</p>}
    </section>
  );
}

function planWords(plan: PlanView): string {
  const fresh = plan.takes - plan.existing;
  if (!fresh) return plan.takes === 1 ? "this take exists" : "all of them exist";
  const exist = plan.existing ? `, ${plan.existing} exist` : "";
  return `${fresh} new${exist}: ${duration(plan.seconds)}, ${disk(plan.bytes)}`;
}

/** A seed is a name, not an amount: typed or rolled; stretched, it is a run of seeds. */
function SeedControl({ studyId, band, onValue, onSpan }: { studyId: string; band: Band; onValue: (v: number) => void; onSpan: (s: SpanSetting | null) => void }) {
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
