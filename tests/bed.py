"""A study with one source, a queue and a worker in the test's own process, against a real PostgreSQL."""

import asyncio
import logging
import tempfile
import unittest
import uuid
from collections.abc import Awaitable, Callable, Sequence

from sqlalchemy import select, text
from sqlalchemy.ext.asyncio import AsyncSession

from tests.pictures import as_file, harbour
from tests.stack import database_address
from warmtide.core.model.recipe import Recipe
from warmtide.core.model.sweep import Span
from warmtide.log import configure
from warmtide.records.database import Database
from warmtide.records.models import Cell, Source, Study, Take
from warmtide.records.store import ImageStore
from warmtide.work import planning
from warmtide.work.framer import Framer
from warmtide.work.queue import TAKES, make_app
from warmtide.work.rendering import Tools

SMALL = Recipe(size=64, steps=4)


class Bed:
    """A study with one source, a queue, and what a worker needs."""

    def __init__(self, address: str, folder: str) -> None:
        self.database = Database(address)
        self.store = ImageStore(folder)
        self.tools = Tools(Database(address), self.store)
        self.app = make_app(address, tools=self.tools)
        self.framer = Framer(self.store)
        self.source = Source(
            name="in.png", original=self.store.put(as_file(harbour(seed=uuid.uuid4().int % 2**31))), format="PNG", width=144,
            height=96, has_alpha=False, notes=[], framing={"ground": "#ffffff"},
        )  # fmt: skip

    async def plan(self, session: AsyncSession, recipe: Recipe, spans: list[Span]) -> planning.Plan:
        return await planning.plan(session, self.framer, self.source, recipe, spans, 2)

    async def start(self, recipe: Recipe, spans: list[Span]) -> uuid.UUID:
        async with self.database.sessions.begin() as session:
            planned = await self.plan(session, recipe, spans)
            return (await planning.start(session, self.app, self.source, planned, recipe, spans)).id

    async def work(self) -> None:
        """Do what is queued, and come back."""
        await self.app.run_worker_async(queues=[TAKES], wait=False, concurrency=1, install_signal_handlers=False)

    async def lose_worker(self, jobs: Sequence[int] | None = None) -> None:
        """A worker takes jobs up, all that wait if none are named, and is not heard of any more."""
        async with self.database.sessions.begin() as session:
            worker = await session.scalar(
                text(
                    "insert into procrastinate_workers (last_heartbeat) values (now() - interval '1 minute') returning id"
                )
            )
            which = "status = 'todo'" if jobs is None else "id = any(:jobs)"
            await session.execute(
                text(f"update procrastinate_jobs set status = 'doing', worker_id = :w where {which}"),
                {"w": worker} if jobs is None else {"w": worker, "jobs": list(jobs)},
            )

    async def states(self, sweep: uuid.UUID) -> list[str]:
        async with self.database.sessions() as session:
            rows = await session.scalars(
                select(Take.state)
                .join(Cell, Cell.take_id == Take.id)
                .where(Cell.sweep_id == sweep)
                .order_by(Cell.position)
            )
            return list(rows)


class OnABed(unittest.TestCase):
    """Tests that play scenes on a bed of their own."""

    @classmethod
    def setUpClass(cls) -> None:
        configure(logging.CRITICAL)
        logging.getLogger("procrastinate").setLevel(logging.CRITICAL)

    def play(self, scene: Callable[[Bed], Awaitable[None]]) -> None:
        async def play() -> None:
            with tempfile.TemporaryDirectory() as folder:
                bed = Bed(database_address(), folder)
                async with bed.database.sessions.begin() as session:
                    session.add(Study(name="bed", sources=[bed.source]))
                async with bed.app.open_async():
                    async with bed.database.sessions.begin() as session:
                        # What another test left would be worked off here.
                        await session.execute(text("delete from procrastinate_jobs"))
                        await session.execute(
                            text("update take set state = 'stopped' where state in ('queued', 'running')")
                        )
                    await scene(bed)
                await bed.tools.close()
                await bed.database.close()

        asyncio.run(play())
