"""How quick records are when there are many: `python -m bench.records [studies] [takes]`.

5,000 studies with 100,000 takes are written by a program, one of them with 5,000 takes; then the shelf, a search and the large study are
asked for as a browser does. Milliseconds from question to whole answer, the median of seven; a bare answer of the same server beside them.
Exits 1 where a bound is missed.
"""

import argparse
import statistics
import sys
import time
import uuid
from collections.abc import Callable

import httpx
import psycopg

from tests.journey import Worker
from tests.pictures import as_file, harbour
from tests.stack import Stack
from warmtide.launch.postgres import Postgres
from warmtide.records.words import WORDS_OF_STUDIES

# Milliseconds that are wanted.
_BOUNDS = {"shelf": 300, "search": 200, "opening 5,000 takes": 1000}
_TIMES, _LARGE = 7, 5_000

# Studies are copies of one that was really made, under names of their own, their takes with keys of their own.
_FILL = """
create temporary table made as select n, gen_random_uuid() as study, gen_random_uuid() as source from generate_series(1, %(studies)s) as n;
insert into study (id, name, demo, created, touched, found_by)
  select study, 'Study ' || n || ' of the ' || (array['quay','mill','badge','boat','walk'])[1 + n %% 5], false,
         now() - n * interval '1 minute', now() - n * interval '1 minute', '' from made;
insert into source (id, study_id, name, original, format, width, height, has_alpha, notes, framing, kind, people, parents, created)
  select made.source, made.study, 'in ' || n || '.png', s.original, s.format, s.width, s.height, s.has_alpha, s.notes, s.framing, s.kind,
         s.people, s.parents, s.created from made, source as s where s.id = %(source)s;
create temporary table swept as select n, study, source, gen_random_uuid() as sweep,
  case when n = 1 then %(large)s / 250 else 1 end as sweeps from made;
create temporary table every as select n, study, source, gen_random_uuid() as sweep, k from swept, generate_series(1, sweeps) as k;
insert into sweep (id, study_id, source_id, recipe_id, spans, paused, stopped, rank, created)
  select every.sweep, every.study, every.source, w.recipe_id, w.spans, false, false, 0, now() from every, sweep as w where w.id = %(swept)s;
create temporary table taken as select sweep, source, gen_random_uuid() as take, p
  from every, generate_series(0, case when n = 1 then 249 else %(each)s - 1 end) as p;
insert into recipe (id, digest, body)
  select taken.take, replace(gen_random_uuid()::text || gen_random_uuid()::text, '-', ''), r.body || jsonb_build_object('seed', taken.p)
    from taken, take as t join recipe as r on r.id = t.recipe_id where t.id = %(take)s;
insert into take (id, key, source_id, recipe_id, state, engine, width, height, step, steps, image, preview, thumb, bytes, seconds, expected,
                  framing, readings, deaths, losses, created, finished)
  select taken.take, replace(gen_random_uuid()::text || gen_random_uuid()::text, '-', ''), taken.source, taken.take, 'done', t.engine, t.width,
         t.height, t.step, t.steps, t.image, t.preview, t.thumb, t.bytes, t.seconds, t.expected, t.framing, t.readings, 0, 0, now(), now()
    from taken, take as t where t.id = %(take)s;
insert into cell (sweep_id, position, take_id) select sweep, p, take from taken;
insert into mark (id, study_id, take_id, value, note, changed)
  select gen_random_uuid(), every.study, taken.take, 'keep', '', now() from taken join every on every.sweep = taken.sweep where taken.p = 3;
analyze;
"""


def fill(stack: Stack, studies: int, takes: int) -> uuid.UUID:
    """Write the records; the number of the study with 5,000 takes."""
    made = stack.client.post("/studies", files={"file": ("quay.png", as_file(harbour(96, 144, 9)))}).json()
    work = Worker(stack, made["id"])
    recipe = {"look": "ink-comic", "size": 96, "prompt": "frozen marsh"}
    source = made["sources"][0]["id"]
    (take,) = work.swept(source, recipe, [{"control": "seed", "values": [1]}])
    sweep = stack.client.get(f"/studies/{made['id']}").json()["sweeps"][0]["id"]
    address = _address(stack)
    each = max((takes - _LARGE) // max(studies - 1, 1), 1)
    values = {"studies": studies, "source": source, "swept": sweep, "take": take["id"], "large": _LARGE, "each": each}
    with psycopg.connect(address, autocommit=False) as database:
        # A client's cursor writes the values into the text: there are several statements in it.
        with psycopg.ClientCursor(database) as cursor:
            cursor.execute(_FILL, values)
            cursor.execute(WORDS_OF_STUDIES)
            cursor.execute("select id from study where name like 'Study 1 of%'")
            found = cursor.fetchone()
        database.commit()
    with psycopg.connect(address, autocommit=True) as database:
        database.execute("vacuum analyze")
    assert found is not None
    return found[0]  # type: ignore[no-any-return]


def _address(stack: Stack) -> str:
    """The database of a running program."""
    running = Postgres(stack.folder).running()
    assert running is not None
    return running


def timed(ask: Callable[[], httpx.Response]) -> float:
    """Milliseconds of the median of seven answers, after one that warms up."""
    assert ask().status_code == 200
    seconds = []
    for _ in range(_TIMES):
        began = time.perf_counter()
        answer = ask()
        seconds.append(time.perf_counter() - began)
        assert answer.status_code == 200
    return 1000 * statistics.median(seconds)


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("studies", nargs="?", type=int, default=5_000)
    parser.add_argument("takes", nargs="?", type=int, default=100_000)
    asked = parser.parse_args()
    stack = Stack()
    try:
        began = time.perf_counter()
        large = fill(stack, asked.studies, asked.takes)
        print(f"{asked.studies} studies, {asked.takes} takes written in {time.perf_counter() - began:.0f} s")
        http = stack.client
        asks: dict[str, Callable[[], httpx.Response]] = {
            "a bare answer": lambda: http.get("/health"),
            "shelf": lambda: http.get("/shelf"),
            "search": lambda: http.get("/shelf", params={"find": "mill marsh 77", "mark": "keep"}),
            "opening 5,000 takes": lambda: http.get(f"/studies/{large}"),
            "its lineage": lambda: http.get(f"/studies/{large}/lineage"),
        }
        good = True
        for name, ask in asks.items():
            took = timed(ask)
            bound = _BOUNDS.get(name)
            good &= bound is None or took <= bound
            print(f"{name:24} {took:7.1f} ms" + (f" of {bound}" if bound else ""))
    finally:
        stack.close()
    return 0 if good else 1


if __name__ == "__main__":
    sys.exit(main())
