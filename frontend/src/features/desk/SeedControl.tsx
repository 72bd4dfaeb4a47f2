import { Dices } from "lucide-react";
import type { ReactNode } from "react";
import { setValue, type Band } from "../../study/band";
import { Gauge } from "../../ui/Gauge";
import { NumberField } from "../../ui/NumberField";
import type { BandEdit } from "./useBandEdit";

const MOST_SEED = 4294967000;
const MOST_RUN = 16;

/** A seed is a name, not an amount: typed or rolled; stretched, it is a run of seeds. */
export function SeedControl({ band, edit, beside }: { band: Band; edit: BandEdit; beside: ReactNode }) {
  const seed = band.recipe.seed ?? 1;
  const span = band.spans.seed ?? null;
  const run = span ? span.to - span.from + 1 : 1;
  const first = span ? span.from : seed;
  const start = (value: number) => {
    const whole = Math.min(Math.max(Math.round(value), 0), MOST_SEED);
    if (span) edit.change((b) => ({ ...setValue("seed", whole)(b), spans: { ...b.spans, seed: { from: whole, to: whole + run - 1, count: run } } }));
    else edit.put("seed")(whole);
  };
  const length = (count: number) => edit.stretch("seed")(count > 1 ? { from: first, to: first + Math.round(count) - 1, count: Math.round(count) } : null);
  return (
    <Gauge
      id="control-seed"
      focusName="seed"
      label={span ? "Seeds" : "Seed"}
      value={1}
      span={span ? { from: 1, to: run, count: run } : null}
      min={1}
      max={MOST_RUN}
      step={1}
      digits={0}
      ends={span ? [`${first} to ${first + run - 1}`, ""] : ["one", "a run"]}
      stretched={{ from: 1, to: 3, count: 3 }}
      beside={beside}
      onValue={length}
      onSpan={(s) => length(s ? s.to : 1)}
      fields={
        <>
          <button type="button" aria-label="Roll the seed" title="Roll the seed" className="rounded p-0.5 text-faint hover:bg-glow hover:text-amber" onClick={() => start(Math.floor(Math.random() * 1e6))}>
            <Dices size={15} />
          </button>
          <NumberField label="Seed" value={first} digits={0} width={span ? "w-9" : "w-14"} onCommit={start} />
          {span && (
            <>
              <span className="text-faint">×</span>
              <NumberField label="Seeds in the run" value={run} digits={0} width="w-6" onCommit={(v) => length(Math.min(Math.max(v, 1), MOST_RUN))} />
            </>
          )}
        </>
      }
    />
  );
}
