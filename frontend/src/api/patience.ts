import { create } from "zustand";

/** Milliseconds that a server which is not there is waited for, and between two tries. */
const PATIENCE = 45_000;
const PAUSE = 1_000;
/** A server that is there answers that what it needs is coming back, and when to ask again. */
const COMING_BACK = 503;
/** What may be asked twice without being done twice. */
const HARMLESS = new Set(["GET", "HEAD", "PUT", "DELETE"]);

interface Waiting {
  /** Requests that wait for the server to be there again. */
  count: number;
}

/** Whether the server is waited for, to be shown. */
export const useWaiting = create<Waiting>(() => ({ count: 0 }));

const rest = (milliseconds: number) => new Promise<void>((resolve) => setTimeout(resolve, milliseconds));

/** Seconds after which an answer asks to be asked again, or null where it is final. */
export function againIn(answer: Response): number | null {
  if (answer.status !== COMING_BACK) return null;
  const seconds = Number(answer.headers.get("Retry-After"));
  return Number.isFinite(seconds) && seconds > 0 ? seconds : null;
}

interface Clock {
  now: () => number;
  rest: (milliseconds: number) => Promise<void>;
}

/**
 * A fetch that waits while the server or its database is being started again: what it was asked is asked again, so that
 * nothing is lost. A change that may have been made already is only repeated where the server says that it was not.
 */
export const patient =
  (fetched: (request: Request) => Promise<Response>, clock: Clock = { now: Date.now, rest }) =>
  async (request: Request): Promise<Response> => {
    const until = clock.now() + PATIENCE;
    let waits = false;
    try {
      for (;;) {
        const left = until - clock.now();
        let pause = PAUSE;
        try {
          const answer = await fetched(request.clone());
          const seconds = againIn(answer);
          if (seconds === null || left <= 0) return answer;
          pause = seconds * 1000;
        } catch (fault) {
          if (left <= 0 || !HARMLESS.has(request.method) || request.signal.aborted) throw fault;
        }
        if (!waits) useWaiting.setState(({ count }) => ({ count: count + 1 }));
        waits = true;
        await clock.rest(Math.min(pause, left));
      }
    } finally {
      if (waits) useWaiting.setState(({ count }) => ({ count: count - 1 }));
    }
  };
