/** Workers as the owner reads them: by machine, those that are here first. */

interface Worker {
  host: string;
  engine: string;
  here: boolean;
  done: number;
  pace: number | null;
}

export interface Machine<T> {
  host: string;
  workers: T[];
  here: number;
  /** Takes a minute that its workers are good for, from what theirs took. */
  rate: number | null;
}

const MINUTE = 60;

/** Workers by the machine that they run on, machines by name. */
export function byMachine<T extends Worker>(workers: T[]): Machine<T>[] {
  const hosts = [...new Set(workers.map((worker) => worker.host))].sort();
  return hosts.map((host) => {
    const own = workers.filter((worker) => worker.host === host);
    const timed = own.filter((worker) => worker.here && worker.pace !== null && worker.pace > 0);
    return {
      host,
      workers: own,
      here: own.filter((worker) => worker.here).length,
      rate: timed.length ? timed.reduce((sum, worker) => sum + MINUTE / worker.pace!, 0) : null,
    };
  });
}

/** What an owner must see to, each in a sentence; none where all is well. */
export function concerns(engine: string, workers: Worker[], waiting: Record<string, number>, answering: Record<string, boolean>): string[] {
  const found: string[] = [];
  const here = workers.filter((worker) => worker.here);
  const able = here.filter((worker) => worker.engine === engine);
  if ((waiting[engine] ?? 0) > 0 && able.length === 0) found.push(`${waiting[engine]} takes wait and no worker of engine ${engine} is here; start one: warmtide worker.`);
  const other = here.filter((worker) => worker.engine !== engine);
  if (other.length) found.push(`${other.length} ${other.length === 1 ? "worker has" : "workers have"} another engine (${[...new Set(other.map((w) => w.engine))].join(", ")}) and take no new jobs; bring them up to date.`);
  for (const [tag, count] of Object.entries(waiting)) {
    const name = tag.split(" ")[0]!;
    if (tag !== engine && tag.includes(" ") && answering[name] === false) found.push(`${count} takes wait for ${name}, which does not answer.`);
    if (tag !== engine && !tag.includes(" ")) found.push(`${count} takes were planned for engine ${tag}; stop and run them again.`);
  }
  return found;
}
