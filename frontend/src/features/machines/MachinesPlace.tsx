import { ArrowLeft } from "lucide-react";
import { useEffect } from "react";
import { useNavigate } from "react-router";
import { useMachines, type MachinesView, type WorkerView } from "../../api/machines";
import { useKeys } from "../../common/keys";
import { byMachine, concerns, type Machine } from "../../primitives/machines";
import { counted, duration } from "../../primitives/words";

/** What whoever runs this installation wants to know of it: who works where, how fast, what waits, what goes wrong. */
export function MachinesPlace() {
  const navigate = useNavigate();
  const found = useMachines();
  const back = () => void (window.history.length > 1 ? navigate(-1) : navigate("/"));
  useKeys({ Escape: back });
  useEffect(() => {
    document.title = "Machines – Warm Tide";
    return () => {
      document.title = "Warm Tide";
    };
  }, []);
  return (
    <main className="min-h-0 flex-1 overflow-y-auto bg-sheet text-ink">
      <div className="mx-auto flex max-w-[1080px] flex-col gap-5 px-6 py-5">
        <div className="flex items-center gap-3">
          <button type="button" aria-label="Back" title="Back (Esc)" onClick={back} className="rounded p-1 text-faint hover:bg-glow hover:text-ink"><ArrowLeft size={16} /></button>
          <h1 className="text-lg font-semibold">Machines</h1>
        </div>
        {found.error && <p role="alert" className="text-fault">{found.error.message}</p>}
        {found.isPending && <p className="text-faint">Asking who is at work…</p>}
        {found.data && <Found found={found.data} />}
      </div>
    </main>
  );
}

function Found({ found }: { found: MachinesView }) {
  const waiting = Object.values(found.waiting).reduce((sum, count) => sum + count, 0);
  const answering = Object.fromEntries(found.engines.map((engine) => [engine.name, engine.answers]));
  const wrong = concerns(found.engine, found.workers, found.waiting, answering);
  const machines = byMachine(found.workers);
  return (
    <>
      <dl className="m-0 grid grid-cols-5 gap-3">
        <Figure name="at work" value={String(found.running)} says="takes that are made just now" />
        <Figure name="waiting" value={String(waiting)} says="takes in the line-up, of all engines" />
        <Figure name="done in an hour" value={String(found.done)} says="takes of the last hour" />
        <Figure name="a take" value={found.done ? `${found.pace.toFixed(2)} s` : "none yet"} says="what a take of the last hour took, in the mean" />
        <Figure name="pictures in" value={found.store === "bucket" ? "a bucket" : "a folder"} says="where pictures are kept" />
      </dl>
      {wrong.map((sentence) => <p key={sentence} role="alert" className="rounded bg-blush px-3 py-2 text-fault">{sentence}</p>)}
      {machines.length === 0 && <p className="text-faint">No worker is here. Start one on this machine or another: <code>warmtide worker --database URL --store URL --count 2</code></p>}
      {machines.map((machine) => <MachineCard key={machine.host} machine={machine} engine={found.engine} />)}
      <section aria-label="Engines" className="flex flex-col gap-1">
        <h2 className="text-[15px] font-semibold">Engines</h2>
        <table className="w-full text-left text-[13px]">
          <thead className="text-faint"><tr><Head>engine</Head><Head>version</Head><Head>takes at once</Head><Head>waiting</Head><Head>just now</Head></tr></thead>
          <tbody>
            {found.engines.map((engine) => (
              <tr key={engine.name} className="border-t border-rule">
                <td className="py-1 font-semibold">{engine.title}</td>
                <td>{engine.version}</td>
                <td>{engine.built_in ? "one a worker" : engine.at_once}</td>
                <td>{found.waiting[engine.built_in ? engine.version : `${engine.name} ${engine.version}`] ?? 0}</td>
                <td className={engine.answers ? "" : "font-semibold text-fault"}>{engine.answers ? "answers" : "does not answer"}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      {found.faults.length > 0 && (
        <section aria-label="Takes that failed" className="flex flex-col gap-1">
          <h2 className="text-[15px] font-semibold">Takes that failed</h2>
          <ul className="m-0 list-none p-0 text-[13px]">
            {found.faults.map((fault) => <li key={fault.sentence} className="flex gap-3 border-t border-rule py-1"><span className="w-20 shrink-0 text-faint">{counted(fault.takes, "take")}</span><span>{fault.sentence}</span></li>)}
          </ul>
        </section>
      )}
    </>
  );
}

function Figure({ name, value, says }: { name: string; value: string; says: string }) {
  return (
    <div title={says} className="rounded-lg border border-rule bg-paper px-3 py-2">
      <dt className="text-[13px] text-faint">{name}</dt>
      <dd className="m-0 text-lg leading-6 font-semibold">{value}</dd>
    </div>
  );
}

const Head = ({ children }: { children: string }) => <th className="py-1 font-normal">{children}</th>;

function MachineCard({ machine, engine }: { machine: Machine<WorkerView>; engine: string }) {
  return (
    <section aria-label={`Machine ${machine.host}`} className="rounded-lg border border-rule bg-paper px-4 py-3">
      <h2 className="flex items-baseline gap-3 text-[15px] font-semibold">
        {machine.host}
        <span className="text-[13px] font-normal text-faint">{machine.here} of {machine.workers.length} {machine.workers.length === 1 ? "process" : "processes"} here{machine.rate === null ? "" : `, up to ${Math.round(machine.rate)} takes a minute`}</span>
      </h2>
      <table className="mt-1 w-full text-left text-[13px]">
        <thead className="text-faint"><tr><Head>process</Head><Head>does</Head><Head>just now</Head><Head>done</Head><Head>failed</Head><Head>a take</Head><Head>engine</Head><Head>since</Head></tr></thead>
        <tbody>
          {machine.workers.map((worker) => (
            <tr key={`${worker.pid} ${worker.since}`} className={`border-t border-rule ${worker.here ? "" : "text-faint"}`}>
              <td className="py-1">{worker.pid}</td>
              <td>{worker.does}</td>
              <td className={worker.here ? "" : "font-semibold text-fault"}>{worker.here ? (worker.busy ? "makes a take" : "waits") : `silent for ${duration(worker.silent)}`}</td>
              <td>{worker.done}</td>
              <td className={worker.failed ? "text-fault" : ""}>{worker.failed}</td>
              <td>{worker.pace === null ? "" : `${worker.pace.toFixed(2)} s`}</td>
              <td className={worker.engine === engine ? "" : "font-semibold text-fault"}>{worker.engine}</td>
              <td>{new Date(worker.since).toLocaleString([], { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" })}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
