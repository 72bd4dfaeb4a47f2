import { GitFork, Keyboard, LayoutGrid, ListOrdered, Moon, Square, Sun } from "lucide-react";
import { useState } from "react";
import { useWaiting } from "../api/patience";
import { useQueue } from "../api/queue";
import { Link, NavLink } from "react-router";
import type { StudyView } from "../api/client";
import { useHealth, useRename, useStopSweep } from "../api/queries";
import { isRunning, progressOf } from "../study/progress";
import { duration } from "../primitives/words";
import { Button } from "../ui/Button";
import { sayFault } from "../common/notices";
import { SURROUNDS, usePreferences } from "../common/preferences";

const TAB = "flex h-7 items-center rounded px-4 font-semibold no-underline";

export function TopBar({ study, onHelp, onQueue }: { study?: StudyView; onHelp: () => void; onQueue: () => void }) {
  const { theme, setTheme } = usePreferences();
  const waiting = useQueue().data?.length ?? 0;
  return (
    <header className="flex h-11 shrink-0 items-center gap-4 bg-deep px-4 text-white">
      <Link to="/" className="flex items-center gap-2 text-[17px] font-semibold text-white no-underline" title="To the shelf">
        <img src="/favicon.svg" alt="" width={22} height={22} /> Warm Tide
      </Link>
      {study && (
        <>
          <Name key={study.id} study={study} />
          <nav aria-label="Places" className="flex rounded-md bg-white/10 p-0.5">
            {[["", "Desk"], ["/bench", "Bench"], ["/hand", "Hand"]].map(([path, title]) => (
              <NavLink key={path} end={path === ""} to={`/study/${study.id}${path}`} className={({ isActive }) => `${TAB} ${isActive ? "bg-paper text-ink" : "text-white hover:bg-white/10"}`}>
                {title}
              </NavLink>
            ))}
          </nav>
          <NavLink to={`/study/${study.id}/lineage`} aria-label="How it came about" title="How the pictures of this study came about (Shift L)" className={({ isActive }) => `rounded p-1 text-white hover:bg-white/10 ${isActive ? "bg-white/20" : ""}`}>
            <GitFork size={18} />
          </NavLink>
          <NavLink to={`/study/${study.id}/wall`} aria-label="Wall" title="What was kept, side by side (Shift W)" className={({ isActive }) => `-ml-3 rounded p-1 text-white hover:bg-white/10 ${isActive ? "bg-white/20" : ""}`}>
            <LayoutGrid size={18} />
          </NavLink>
          <Work study={study} />
        </>
      )}
      <div className="ml-auto flex items-center gap-3">
        <Away />
        {study && <Surrounds />}
        <button type="button" aria-label={waiting ? `Line-up: ${waiting}` : "Line-up"} title="What waits and runs, of every study (Q)" onClick={onQueue} className="flex items-center gap-1 rounded p-1 hover:bg-white/10">
          <ListOrdered size={19} />
          {waiting > 0 && <span className="rounded-full bg-lamp px-1.5 text-xs leading-4 font-semibold text-[#14323a]">{waiting}</span>}
        </button>
        <button type="button" aria-label={theme === "dark" ? "By day" : "By night"} title="Light or dark surfaces (Shift G)" onClick={() => setTheme(theme === "dark" ? "light" : "dark")} className="rounded p-1 hover:bg-white/10">
          {theme === "dark" ? <Sun size={18} /> : <Moon size={18} />}
        </button>
        <button type="button" aria-label="Keys" title="Keys (?)" onClick={onHelp} className="rounded p-1 hover:bg-white/10">
          <Keyboard size={19} />
        </button>
      </div>
    </header>
  );
}

/** That the server is waited for, while it or its database is started again. */
function Away() {
  const waits = useWaiting((state) => state.count > 0);
  if (!waits) return null;
  return (
    <span role="status" className="rounded bg-lamp px-2 py-0.5 text-[13px] font-semibold text-[#14323a]">
      Waiting for Warm Tide to be back…
    </span>
  );
}

function Name({ study }: { study: StudyView }) {
  const rename = useRename(study.id);
  const [draft, setDraft] = useState(study.name);
  const keep = () => {
    const name = draft.trim();
    if (!name) setDraft(study.name);
    else if (name !== study.name) rename.mutate(name, { onError: sayFault });
  };
  return (
    <input
      aria-label="Name of the study"
      value={draft}
      maxLength={200}
      onChange={(event) => setDraft(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      className="w-56 truncate rounded border border-transparent bg-transparent px-2 py-0.5 text-[15px] hover:border-white/30 focus:border-lamp focus:outline-none"
    />
  );
}

/** What is being rendered: how much is done, when the rest will be, and Stop. */
function Work({ study }: { study: StudyView }) {
  const workers = useHealth().data?.workers ?? 1;
  const queue = useQueue().data ?? [];
  const stop = useStopSweep(study.id);
  const running = study.sweeps.filter((sweep) => !sweep.paused && isRunning(sweep));
  if (!running.length) return null;
  const progress = progressOf(running, workers);
  // The line-up knows what stands before; until it is read, what this study alone needs.
  const ready = queue.filter((q) => q.study_id === study.id).map((q) => q.ready_in ?? 0);
  const left = ready.length ? Math.max(...ready) : progress.secondsLeft;
  return (
    <div role="status" className="flex items-center gap-3 text-[13px]" data-testid="work">
      <span>
        {progress.done} of {progress.total}, {duration(left)} left
      </span>
      <span className="h-1.5 w-28 overflow-hidden rounded-full bg-white/20">
        <span className="block h-full bg-[#5fb8b2] transition-[width]" style={{ width: `${(progress.done / progress.total) * 100}%` }} />
      </span>
      <Button className="h-7 px-2" onClick={() => running.forEach((s) => stop.mutate(s.id, { onError: sayFault }))}>
        <Square size={12} /> Stop
      </Button>
    </div>
  );
}

const SWATCH = { dark: "bg-dark", mid: "bg-mid", light: "bg-light" };

function Surrounds() {
  const { surround, setSurround } = usePreferences();
  return (
    <div role="radiogroup" aria-label="Surround of pictures" className="flex items-center gap-1.5">
      {SURROUNDS.map((grey) => (
        <button
          key={grey}
          type="button"
          role="radio"
          aria-checked={surround === grey}
          aria-label={`${grey} grey`}
          title={`${grey} grey (G)`}
          onClick={() => setSurround(grey)}
          className={`h-4.5 w-4.5 rounded-full border ${SWATCH[grey]} ${surround === grey ? "border-lamp ring-2 ring-lamp" : "border-white/50"}`}
        />
      ))}
    </div>
  );
}
