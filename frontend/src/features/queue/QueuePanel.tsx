import { ArrowDown, ArrowUp, Pause, Play, Square, X } from "lucide-react";
import { Link } from "react-router";
import { useChoices, useStopSweep } from "../../api/queries";
import { useQueue, useQueueChange, type QueuedSweep } from "../../api/queue";
import { sayFault } from "../../common/notices";
import { lookTitle } from "../../primitives/engines";
import { duration } from "../../primitives/words";
import { Button } from "../../ui/Button";
import { axisName } from "../../study/controls";

/** What waits and runs, of every study: its order, how long each takes, pause and stop. */
export function QueuePanel({ onClose }: { onClose: () => void }) {
  const queue = useQueue().data ?? [];
  const change = useQueueChange();
  const order = queue.map((q) => q.id);
  const put = (asked: Parameters<typeof change.mutate>[0]) => change.mutate(asked, { onError: sayFault });
  const move = (from: number, to: number) => {
    const next = [...order];
    next.splice(to, 0, ...next.splice(from, 1));
    put({ order: next });
  };
  const allPaused = queue.length > 0 && queue.every((q) => q.paused);
  const last = Math.max(0, ...queue.map((q) => q.ready_in ?? 0));
  return (
    <aside aria-label="Line-up" className="fixed top-14 right-2 z-40 flex max-h-[calc(100vh-72px)] w-[430px] animate-[rise_.15s_ease-out] flex-col rounded-lg border border-rule bg-sheet p-4 text-ink shadow-xl">
      <div className="flex items-center gap-2">
        <h2 className="mr-auto text-base font-semibold">Line-up</h2>
        {queue.length > 0 && (
          <>
            <Button className="h-7 px-2" onClick={() => put(allPaused ? { resumed: order } : { paused: order })}>
              {allPaused ? <Play size={13} /> : <Pause size={13} />} {allPaused ? "Go on" : "Pause all"}
            </Button>
            <Button className="h-7 px-2" onClick={() => put("stop all")}>
              <Square size={12} /> Stop all
            </Button>
          </>
        )}
        <button type="button" aria-label="Close" onClick={onClose} className="rounded p-1 text-faint hover:text-ink">
          <X size={17} />
        </button>
      </div>
      <p className="mt-1 mb-2 text-[13px] text-faint">
        {queue.length ? `${queue.length === 1 ? "One sweep" : `${queue.length} sweeps`}; ${last > 0 ? `all done in ${duration(last)}` : "nothing runs"}. It goes on when this window is closed.` : "Nothing waits. Run a sweep, then go on with the next: they line up here."}
      </p>
      <ol className="m-0 flex list-none flex-col gap-1.5 overflow-y-auto p-0">
        {queue.map((sweep, i) => (
          <Row key={sweep.id} sweep={sweep} onUp={i > 0 ? () => move(i, i - 1) : undefined} onDown={i < queue.length - 1 ? () => move(i, i + 1) : undefined} onPause={() => put(sweep.paused ? { resumed: [sweep.id] } : { paused: [sweep.id] })} />
        ))}
      </ol>
      <Link to="/machines" onClick={onClose} className="mt-3 self-start text-[13px] text-amber">Machines: who works where, how fast, what fails</Link>
    </aside>
  );
}

const SMALL = "rounded p-1 text-faint hover:bg-glow hover:text-amber disabled:opacity-30";

function Row({ sweep, onUp, onDown, onPause }: { sweep: QueuedSweep; onUp: (() => void) | undefined; onDown: (() => void) | undefined; onPause: () => void }) {
  const choices = useChoices().data;
  const stop = useStopSweep(sweep.study_id);
  const look = choices ? lookTitle(choices, sweep.recipe) : sweep.recipe.look;
  const axes = [...sweep.spans].reverse().map((s) => axisName(s.control).toLowerCase()).join(" by ");
  const when = sweep.paused ? "paused" : `ready in ${duration(sweep.ready_in ?? 0)}`;
  return (
    <li className="rounded-md border border-rule px-2.5 py-1.5">
      <div className="flex items-center gap-1">
        <Link to={`/study/${sweep.study_id}`} className="min-w-0 flex-1 truncate font-semibold text-ink no-underline hover:underline">
          {sweep.study}
        </Link>
        <button type="button" aria-label="Earlier" title="Earlier" disabled={!onUp} onClick={onUp} className={SMALL}><ArrowUp size={15} /></button>
        <button type="button" aria-label="Later" title="Later" disabled={!onDown} onClick={onDown} className={SMALL}><ArrowDown size={15} /></button>
        <button type="button" aria-label={sweep.paused ? "Go on" : "Pause"} title={sweep.paused ? "Go on" : "Pause: takes that run are finished"} onClick={onPause} className={SMALL}>
          {sweep.paused ? <Play size={15} /> : <Pause size={15} />}
        </button>
        <button type="button" aria-label="Stop" title="Stop: finished takes stay" onClick={() => stop.mutate(sweep.id, { onError: sayFault })} className={SMALL}><Square size={14} /></button>
      </div>
      <div className="flex items-baseline justify-between gap-2 text-[13px] text-faint">
        <span className="truncate">{sweep.source}: {look}{axes && `, ${axes}`}</span>
        <span className="shrink-0">{when}</span>
      </div>
      <div className="mt-1 flex items-center gap-2 text-xs text-faint">
        <span className="h-1.5 flex-1 overflow-hidden rounded-full bg-rule">
          <span className="block h-full bg-teal" style={{ width: `${(sweep.done / sweep.total) * 100}%` }} />
        </span>
        {sweep.done} of {sweep.total}{sweep.failed > 0 && <span className="text-fault">, {sweep.failed} failed</span>}
      </div>
    </li>
  );
}
