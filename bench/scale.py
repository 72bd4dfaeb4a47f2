"""Where an installation comes to its limits: `python -m bench.scale [--check]`.

A simulation from measured costs (see `Costs`): workers fetch jobs one after another from the database (rows are locked, each fetch looks past those
that others hold), render, put their pictures into the store, and say how far they are; the server reads each take that is done. Printed are takes
a second for 1 to 200 workers and takes of .4 to 4 s, and what is used up first. `--check` compares it with 1, 2 and 4 workers of this machine that
only wait (a take that costs no processor), which is where the costs come from.
"""

import argparse
import heapq
import sys
import time
from dataclasses import dataclass

from tests.engines.served import stand_in
from tests.pictures import as_file, harbour
from tests.stack import Stack
from warmtide.engines.client import asked_about
from warmtide.engines.known import Entry, keep

_COUNTS = (1, 2, 4, 8, 16, 32, 64, 128, 200)
_TAKES = (0.4, 1.0, 4.0)
_SECONDS = 120.0
# How far measured and simulated may be apart.
_APART = 0.15


@dataclass(frozen=True)
class Costs:
    """In seconds, on two cores (2026-12-02): `fetch`, `notice` and `read` by `bench.queue_costs`; `seek` is a guess.

    Attributes
    ----------
    fetch : a job fetched, begun and ended, by the clock, which is more than the database's own part (.75 ms). seek : more of it for every worker that holds a job, whose row is
    looked past. notice : the server's time for a notice of progress, of which a take sends `notices` a second; read : for a take that is
    done. own : a worker's time beside the take itself. connections : of the database a worker, and the most that it has.
    """

    fetch: float = 0.0022
    seek: float = 0.00001
    notice: float = 0.00013
    read: float = 0.0069
    notices: float = 8.0
    own: float = 0.012
    store: float = 0.008
    connections: int = 4
    most_connections: int = 100


@dataclass(frozen=True)
class Outcome:
    """Takes a second, and the share of the time that the database, and the server, are busy."""

    rate: float
    database: float
    server: float


def simulated(workers: int, take: float, costs: Costs, seconds: float = _SECONDS) -> Outcome:
    """Workers that fetch, render and keep for so many seconds; the database serves one after another, as its locks make it."""
    ready = [(0.0, k) for k in range(workers)]
    heapq.heapify(ready)
    free_at, busy, done = 0.0, 0.0, 0
    fetch = costs.fetch + costs.seek * workers
    while ready:
        now, worker = heapq.heappop(ready)
        if now >= seconds:
            continue
        begun = max(now, free_at)
        free_at = begun + fetch
        busy += fetch
        ended = free_at + take + costs.own + costs.store
        done += ended <= seconds
        heapq.heappush(ready, (ended, worker))
    rate = done / seconds
    told = rate * (costs.read + costs.notice * costs.notices * take)
    return Outcome(rate, min(busy / seconds, 1.0), told)


def limit(workers: int, outcome: Outcome, costs: Costs) -> str:
    """What is used up, if anything is."""
    found = []
    if workers * costs.connections > costs.most_connections:
        found.append("connections")
    if outcome.database > 0.9:
        found.append("fetching jobs")
    if outcome.server > 0.9:
        found.append("notices")
    return ", ".join(found) or "nothing"


def _table(costs: Costs) -> None:
    print("| workers | " + " | ".join(f"takes of {take:g} s" for take in _TAKES) + " | used up |")
    print("|---" * (len(_TAKES) + 2) + "|")
    for workers in _COUNTS:
        outcomes = [simulated(workers, take, costs) for take in _TAKES]
        ends = sorted({limit(workers, outcome, costs) for outcome in outcomes} - {"nothing"})
        cells = " | ".join(f"{o.rate:.1f} a second" for o in outcomes)
        print(f"| {workers} | {cells} | {'; '.join(ends) or 'nothing'} |")


def _measured(at_once: int, takes: int) -> tuple[float, float]:
    """Takes a second, and seconds a take, of so many desks of an engine that only waits; its records, pictures and notices are those of any take."""
    with stand_in(delay=1.0, at_once=at_once) as address:
        stack = Stack(workers=1)
        try:
            keep(stack.folder / "engines.json", (Entry(name="studio-a", url=address.url, about=asked_about(address)),))
            while "studio-a" not in [engine["name"] for engine in stack.client.get("/choices").json()["engines"]]:
                time.sleep(0.2)
            study = stack.client.post("/studies", files={"file": ("quay.png", as_file(harbour(192, 288, 5)))}).json()
            asked = {
                "source_id": study["sources"][0]["id"],
                "recipe": {"engine": "studio-a", "look": "day-bands", "size": 256, "steps": 8},
            }
            seconds: list[float] = []
            rate = 0.0
            # The first sweep is for what loads.
            for seeds in (range(4 * at_once), range(1000, 1000 + takes)):
                began = time.monotonic()
                sweep = stack.client.post(
                    "/sweeps", json={**asked, "spans": [{"control": "seed", "values": list(seeds)}]}
                ).json()
                found = stack.settled(study["id"], sweep["id"])["takes"]
                rate = len(found) / (time.monotonic() - began)
                seconds = [take["seconds"] for take in found]
            return rate, sum(seconds) / len(seconds)
        finally:
            stack.close()


def _check(costs: Costs) -> int:
    """Whether what is simulated is what this machine does with 1, 2 and 4 desks."""
    worst = 0.0
    for at_once in (1, 2, 4):
        rate, take = _measured(at_once, 12 * at_once)
        expected = simulated(at_once, take, costs).rate
        worst = max(worst, abs(rate / expected - 1))
        print(
            f"{at_once} at once: {rate:.2f} takes a second measured, {expected:.2f} simulated (a take of {take:.2f} s)"
        )
    print(f"apart by {100 * worst:.0f} % at most")
    return int(worst > _APART)


def main() -> int:
    given = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    given.add_argument("--check", action="store_true")
    if given.parse_args().check:
        return _check(Costs())
    _table(Costs())
    return 0


if __name__ == "__main__":
    sys.exit(main())
