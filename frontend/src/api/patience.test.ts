import { describe, expect, it } from "vitest";
import { againIn, patient, useWaiting } from "./patience";

/** A clock that goes on only by resting. */
function clock() {
  let at = 0;
  return { now: () => at, rest: (ms: number) => Promise.resolve(void (at += ms)), at: () => at };
}

const away = (again = "2") => new Response("{}", { status: 503, headers: { "Retry-After": again } });
const asked = (method: string) => new Request("http://localhost/api/studies", { method, body: method === "GET" ? undefined : "{}" });

/** Answers one after another; a string is a connection that fails. */
function server(answers: (Response | string)[]) {
  let calls = 0;
  const fetched = (request: Request) => {
    const next = answers[Math.min(calls++, answers.length - 1)]!;
    return request.text().then(() => (typeof next === "string" ? Promise.reject(new TypeError(next)) : next.clone()));
  };
  return { fetched, calls: () => calls };
}

describe("patient", () => {
  it("passes on what is answered at once", async () => {
    const there = server([new Response("ok")]);
    expect((await patient(there.fetched, clock())(asked("GET"))).status).toBe(200);
    expect(there.calls()).toBe(1);
  });
  it("asks again while the database comes back, changes too, with their bodies", async () => {
    for (const method of ["GET", "POST"]) {
      const time = clock();
      const there = server([away(), away("3"), new Response("ok")]);
      expect((await patient(there.fetched, time)(asked(method))).status).toBe(200);
      expect(there.calls()).toBe(3);
      expect(time.at()).toBe(5000);
    }
  });
  it("waits for a server that does not answer, but repeats no change that may have been made", async () => {
    const gone = server(["refused", "refused", new Response("ok")]);
    expect((await patient(gone.fetched, clock())(asked("GET"))).status).toBe(200);
    const change = server(["refused", new Response("ok")]);
    await expect(patient(change.fetched, clock())(asked("POST"))).rejects.toThrow("refused");
    expect(change.calls()).toBe(1);
  });
  it("gives up after a while and says that it waits meanwhile", async () => {
    const time = clock();
    const seen: number[] = [];
    const there = server(["refused"]);
    const watched = (request: Request) => {
      seen.push(useWaiting.getState().count);
      return there.fetched(request);
    };
    await expect(patient(watched, time)(asked("GET"))).rejects.toThrow("refused");
    expect(time.at()).toBe(45_000);
    expect(seen.slice(0, 2)).toEqual([0, 1]);
    expect(useWaiting.getState().count).toBe(0);
  });
  it("takes a refusal for final", async () => {
    for (const status of [404, 422, 500, 503]) {
      const there = server([new Response("{}", { status })]);
      expect((await patient(there.fetched, clock())(asked("GET"))).status).toBe(status);
      expect(there.calls()).toBe(1);
    }
    expect(againIn(away("soon"))).toBeNull();
  });
});
