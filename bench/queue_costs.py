"""What a take costs the database and the server, beside the worker: measured for `bench.scale`."""

import asyncio
import os
import tempfile
import time
from pathlib import Path

import orjson
import procrastinate
import psycopg
from procrastinate import PsycopgConnector
from sqlalchemy import select
from sqlalchemy.orm import selectinload

from tests.bed import SMALL, Bed
from tests.stack import database_address
from warmtide.core.model.sweep import Span
from warmtide.records.models import Study, Take
from warmtide.records.views import studies_of, take_view
from warmtide.work.queue import CHANNEL

_JOBS, _NOTICES, _READS = 400, 2000, 200
_TICKS = os.sysconf("SC_CLK_TCK")


def _cpu_below(parent: int) -> float:
    """Seconds of processor that a process, those that it has begun, and those of them that have ended, have used."""
    total = 0
    for path in Path("/proc").glob("[0-9]*/stat"):
        try:
            fields = path.read_text().rpartition(")")[2].split()
        except OSError:
            continue
        if int(path.parent.name) == parent or int(fields[1]) == parent:
            total += sum(int(fields[k]) for k in (11, 12, 13, 14))
    return total / _TICKS


def _postmaster(address: str) -> int:
    with psycopg.connect(address) as connection:
        backend = connection.info.backend_pid
        return int(Path(f"/proc/{backend}/stat").read_text().rpartition(")")[2].split()[1])


async def _fetching(address: str) -> tuple[float, float]:
    """Seconds of the database's processor, and of the clock, for a job that does nothing."""
    app = procrastinate.App(connector=PsycopgConnector(conninfo=address, min_size=1, max_size=4))

    @app.task(name="nothing", queue="nothing")  # type: ignore[untyped-decorator]
    async def nothing() -> None:
        return None

    async with app.open_async():
        for _ in range(_JOBS):
            await app.tasks["nothing"].defer_async()
        master = _postmaster(address)
        before, began = _cpu_below(master), time.perf_counter()
        await app.run_worker_async(queues=["nothing"], wait=False, install_signal_handlers=False, delete_jobs="always")
        return (_cpu_below(master) - before) / _JOBS, (time.perf_counter() - began) / _JOBS


async def _noticing(address: str) -> float:
    """Seconds for a notice from one connection to another."""
    async with (
        await psycopg.AsyncConnection.connect(address, autocommit=True) as said,
        await psycopg.AsyncConnection.connect(address, autocommit=True) as heard,
    ):
        await heard.execute(f"listen {CHANNEL}")
        began = time.perf_counter()
        for k in range(_NOTICES):
            await said.execute("select pg_notify(%s, %s)", (CHANNEL, f'{{"take": "{k}", "step": 1}}'))
        count = 0
        async for _ in heard.notifies(timeout=1.0, stop_after=_NOTICES):
            count += 1
        assert count == _NOTICES
        return (time.perf_counter() - began) / _NOTICES


async def _reading(address: str) -> float:
    """Seconds for the server to read a take that is done, and who shows it."""
    with tempfile.TemporaryDirectory() as folder:
        bed = Bed(address, folder)
        async with bed.database.sessions.begin() as session:
            session.add(Study(name="costs", sources=[bed.source]))
        async with bed.app.open_async():
            await bed.start(SMALL, [Span(control="seed", values=(1, 2))])
            await bed.work()
        async with bed.database.sessions() as session:
            take_id = await session.scalar(select(Take.id).limit(1))
        assert take_id is not None
        began = time.perf_counter()
        for _ in range(_READS):
            async with bed.database.sessions() as session:
                await studies_of(session, take_id)
                row = await session.get(Take, take_id, options=[selectinload(Take.recipe)])
                assert row is not None
                orjson.dumps(take_view(row), default=str)
        spent = (time.perf_counter() - began) / _READS
        await bed.tools.close()
        await bed.database.close()
        return spent


def measured() -> dict[str, float]:
    """Costs in seconds by name."""
    address = database_address()
    fetch, clock = asyncio.run(_fetching(address))
    return {
        "fetch": fetch,
        "fetch by the clock": clock,
        "notice": asyncio.run(_noticing(address)),
        "read": asyncio.run(_reading(address)),
    }


if __name__ == "__main__":
    for name, seconds in measured().items():
        print(f"{name}: {1000 * seconds:.2f} ms")
