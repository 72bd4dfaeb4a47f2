"""Planning and the queue, against a real PostgreSQL, with a worker in this process."""

import asyncio
import logging
import tempfile
import unittest
import uuid
from collections.abc import Awaitable, Callable

from sqlalchemy import func, select, text
from sqlalchemy.ext.asyncio import AsyncSession

from tests.pictures import as_file, harbour
from tests.stack import database_address
from warmtide.core.errors import BadInput
from warmtide.core.recipe import Recipe
from warmtide.core.sweep import Span
from warmtide.log import configure
from warmtide.records.database import Database
from warmtide.records.models import Cell, Source, Study, Sweep, Take
from warmtide.records.store import ImageStore
from warmtide.work import planning, rendering
from warmtide.work.queue import TASK, make_app, requeue_orphans, revive_stalled

SMALL = Recipe(size=64, steps=4)


class Bed:
    """A study with one source, a queue, and what a worker needs."""

    def __init__(self, address: str, folder: str) -> None:
        self.database = Database(address)
        self.store = ImageStore(folder)
        self.app = make_app(address)
        self.framer = planning.Framer(self.store)
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
        await self.app.run_worker_async(queues=["takes"], wait=False, concurrency=1, install_signal_handlers=False)

    async def states(self, sweep: uuid.UUID) -> list[str]:
        async with self.database.sessions() as session:
            rows = await session.scalars(
                select(Take.state)
                .join(Cell, Cell.take_id == Take.id)
                .where(Cell.sweep_id == sweep)
                .order_by(Cell.position)
            )
            return list(rows)


class Queue(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        configure(logging.CRITICAL)

    def play(self, scene: Callable[[Bed], Awaitable[None]]) -> None:
        async def play() -> None:
            with tempfile.TemporaryDirectory() as folder:
                bed = Bed(database_address(), folder)
                async with bed.database.sessions.begin() as session:
                    session.add(Study(name="bed", sources=[bed.source]))
                rendering.tools = rendering.Tools(Database(database_address()), bed.store)
                async with bed.app.open_async():
                    await bed.app.job_manager.delete_old_jobs(nb_hours=0)
                    await scene(bed)
                await rendering.tools.close()
                await bed.database.close()

        asyncio.run(play())

    def test_a_sweep_is_rendered_and_repeated_for_nothing(self) -> None:
        async def scene(bed: Bed) -> None:
            spans = [Span(control="strength", values=(0.2, 0.8))]
            sweep = await bed.start(SMALL, spans)
            self.assertEqual(await bed.states(sweep), ["queued", "queued"])
            await bed.work()
            self.assertEqual(await bed.states(sweep), ["done", "done"])
            async with bed.database.sessions() as session:
                wider = [Span(control="strength", values=(0.2, 0.5, 0.8))]
                planned = await bed.plan(session, SMALL, wider)
                self.assertEqual((len(planned.keys), planned.new), (3, 1))
                takes = list(planned.existing.values())
                self.assertTrue(all(bed.store.has(t.image or "") and bed.store.has(t.preview or "") for t in takes))
                self.assertTrue(all(t.readings and 0 <= t.readings["composition"] <= 100 for t in takes))
            again = await bed.start(SMALL, spans)
            self.assertEqual(await bed.states(again), ["done", "done"])
            async with bed.database.sessions() as session:
                waiting = await session.scalar(text("select count(*) from procrastinate_jobs where status = 'todo'"))
            self.assertEqual(waiting, 0)

        self.play(scene)

    def test_nothing_is_kept_of_a_plan_that_fails(self) -> None:
        async def scene(bed: Bed) -> None:
            class Broken(Exception):
                pass

            with self.assertRaises(Broken):
                async with bed.database.sessions.begin() as session:
                    planned = await bed.plan(session, SMALL, [])
                    await planning.start(session, bed.app, bed.source, planned, SMALL, [])
                    raise Broken
            async with bed.database.sessions() as session:
                sweeps = await session.scalar(
                    select(func.count()).select_from(Sweep).where(Sweep.source_id == bed.source.id)
                )
                jobs = await session.scalar(text("select count(*) from procrastinate_jobs where status = 'todo'"))
            self.assertEqual((sweeps, jobs), (0, 0))
            async with bed.database.sessions() as session:
                with self.assertRaisesRegex(BadInput, "no look"):
                    await bed.plan(session, SMALL.changed(look="fog"), [])

        self.play(scene)

    def test_stop_and_run_again(self) -> None:
        async def scene(bed: Bed) -> None:
            spans = [Span(control="seed", values=(1, 2, 3))]
            sweep = await bed.start(SMALL, spans)
            async with bed.database.sessions.begin() as session:
                stopped = await planning.stop(session, bed.app, sweep)
            self.assertEqual(len(stopped), 3)
            await bed.work()
            self.assertEqual(await bed.states(sweep), ["stopped"] * 3)
            await bed.start(SMALL, spans)
            await bed.work()
            self.assertEqual(await bed.states(sweep), ["done"] * 3)

        self.play(scene)

    def test_stopping_spares_what_a_later_sweep_waits_for(self) -> None:
        async def scene(bed: Bed) -> None:
            first = await bed.start(SMALL, [Span(control="seed", values=(1, 2))])
            second = await bed.start(SMALL, [Span(control="seed", values=(2, 3))])
            async with bed.database.sessions.begin() as session:
                self.assertEqual(len(await planning.stop(session, bed.app, first)), 1)
            await bed.work()
            self.assertEqual(await bed.states(first), ["stopped", "done"])
            self.assertEqual(await bed.states(second), ["done", "done"])

        self.play(scene)

    def test_a_lost_picture_fails_with_a_sentence(self) -> None:
        async def scene(bed: Bed) -> None:
            sweep = await bed.start(SMALL, [])
            bed.store._files.rm(bed.store._root, recursive=True)
            assert rendering.tools is not None
            await bed.work()
            self.assertEqual(await bed.states(sweep), ["failed"])
            async with bed.database.sessions() as session:
                fault = await session.scalar(
                    select(Take.fault).join(Cell, Cell.take_id == Take.id).where(Cell.sweep_id == sweep)
                )
            self.assertRegex(fault or "", "could not be rendered")

        self.play(scene)

    def test_what_a_lost_worker_left_is_taken_up(self) -> None:
        async def scene(bed: Bed) -> None:
            sweep = await bed.start(SMALL, [Span(control="seed", values=(1, 2))])
            async with bed.database.sessions.begin() as session:
                jobs = list(
                    await session.scalars(text("select id from procrastinate_jobs where status = 'todo' order by id"))
                )
                # One job hangs on a worker that has not been heard of for a minute, the other is gone altogether.
                worker = await session.scalar(
                    text(
                        "insert into procrastinate_workers (last_heartbeat) values (now() - interval '1 minute') returning id"
                    )
                )
                await session.execute(
                    text("update procrastinate_jobs set status = 'doing', worker_id = :w where id = :j"),
                    {"w": worker, "j": jobs[0]},
                )
                await session.execute(text("delete from procrastinate_events where job_id = :j"), {"j": jobs[1]})
                await session.execute(text("delete from procrastinate_jobs where id = :j"), {"j": jobs[1]})
                await session.execute(
                    text("update take set state = 'running', step = 3 where job_id = any(:j)"), {"j": jobs}
                )
            self.assertEqual(await revive_stalled(bed.app), 1)
            async with bed.database.sessions.begin() as session:
                self.assertEqual(await requeue_orphans(bed.app, session), 1)
            async with bed.database.sessions.begin() as session:
                self.assertEqual(await requeue_orphans(bed.app, session), 0)
            await bed.work()
            self.assertEqual(await bed.states(sweep), ["done", "done"])

        self.play(scene)

    def test_a_job_that_runs_twice_is_harmless(self) -> None:
        async def scene(bed: Bed) -> None:
            sweep = await bed.start(SMALL, [])
            await bed.work()
            async with bed.database.sessions() as session:
                take = (
                    await session.scalars(
                        select(Take).join(Cell, Cell.take_id == Take.id).where(Cell.sweep_id == sweep)
                    )
                ).one()
            await bed.app.tasks["render_take"].defer_async(take_id=str(take.id))
            await bed.work()
            async with bed.database.sessions() as session:
                after = await session.get_one(Take, take.id)
            self.assertEqual((after.image, after.finished), (take.image, take.finished))

        self.play(scene)

    def test_the_queue_knows_its_task(self) -> None:
        self.assertEqual(make_app(database_address()).tasks[TASK].queue, "takes")
