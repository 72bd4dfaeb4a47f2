"""Planning and the queue, against a real PostgreSQL, with a worker in this process."""

import unittest
import unittest.mock
import uuid
from datetime import UTC, datetime, timedelta
from typing import Any

import numpy as np
from sqlalchemy import func, select, text

from tests.bed import SMALL, Bed, OnABed
from tests.pictures import as_file, harbour
from tests.stack import database_address
from warmtide.core.model.errors import BadInput
from warmtide.core.model.recipe import Recipe
from warmtide.core.model.sweep import Span
from warmtide.records.models import Cell, Source, Study, Sweep, Take
from warmtide.work import lineup, planning, rendering, tips
from warmtide.work.forget import forget_deleted
from warmtide.work.queue import TAKES, TASK, make_app, requeue_orphans, revive_stalled
from warmtide.work.reread import reread


class Queue(OnABed):
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

    def test_sweeps_line_up_are_ordered_paused_and_go_on(self) -> None:
        async def scene(bed: Bed) -> None:
            first = await bed.start(SMALL.changed(seed=21), [Span(control="strength", values=(0.4, 0.5))])
            second = await bed.start(SMALL.changed(seed=22), [])
            third = await bed.start(SMALL.changed(seed=23), [])

            async def listed() -> list[lineup.Waiting]:
                async with bed.database.sessions() as session:
                    return await lineup.lineup(session, 1)

            waiting = await listed()
            self.assertEqual([w.sweep.id for w in waiting], [first, second, third])
            self.assertEqual([(w.total, w.done) for w in waiting], [(2, 0), (1, 0), (1, 0)])
            self.assertEqual(waiting[0].ready_in, waiting[0].seconds)
            self.assertGreater(waiting[1].ready_in or 0, waiting[0].ready_in or 0)
            async with bed.database.sessions.begin() as session:
                await lineup.reorder(session, [third, first])
                await lineup.pause(session, [second], True)
            late = await bed.start(SMALL.changed(seed=24), [])
            self.assertEqual([w.sweep.id for w in await listed()], [third, first, second, late])
            self.assertIsNone((await listed())[2].ready_in)
            order = []
            finish = rendering.render

            def seen(source: Any, recipe: Recipe, *rest: Any) -> Any:
                order.append(recipe.seed)
                return finish(source, recipe, *rest)

            with unittest.mock.patch.object(rendering, "render", seen):
                await bed.work()
            self.assertEqual(order, [23, 21, 21, 24])
            self.assertEqual(await bed.states(second), ["queued"])
            # A sweep that wants a paused take lets it go on.
            again = await bed.start(SMALL.changed(seed=22), [])
            await bed.work()
            self.assertEqual((await bed.states(second), await bed.states(again)), (["done"], ["done"]))
            self.assertEqual(await listed(), [])

        self.play(scene)

    def test_what_was_deleted_a_week_ago_is_forgotten(self) -> None:
        async def scene(bed: Bed) -> None:
            old, young = await bed.start(SMALL.changed(seed=41), []), await bed.start(SMALL.changed(seed=42), [])
            now = datetime.now(UTC)
            async with bed.database.sessions.begin() as session:
                for sweep_id, days in ((old, 8), (young, 6)):
                    (await session.get_one(Sweep, sweep_id)).deleted = now - timedelta(days=days)
                await session.flush()
                await forget_deleted(session)
            async with bed.database.sessions.begin() as session:
                self.assertIsNone(await session.get(Sweep, old))
                self.assertIsNotNone(await session.get(Sweep, young))
                (await session.get_one(Study, bed.source.study_id)).deleted = now - timedelta(days=8)
                await session.flush()
                await forget_deleted(session)
            async with bed.database.sessions() as session:
                self.assertIsNone(await session.get(Study, bed.source.study_id))
                self.assertIsNone(await session.get(Sweep, young))

        self.play(scene)

    def test_a_paused_sweep_goes_on_when_told(self) -> None:
        async def scene(bed: Bed) -> None:
            sweep = await bed.start(SMALL.changed(seed=31), [])
            async with bed.database.sessions.begin() as session:
                await lineup.pause(session, [sweep], True)
            await bed.work()
            self.assertEqual(await bed.states(sweep), ["queued"])
            async with bed.database.sessions.begin() as session:
                self.assertEqual(await requeue_orphans(bed.app, session), [])
                await lineup.pause(session, [sweep], False)
            await bed.work()
            self.assertEqual(await bed.states(sweep), ["done"])
            async with bed.database.sessions() as session:
                with self.assertRaisesRegex(BadInput, "There is no sweep"):
                    await lineup.pause(session, [uuid.uuid4()], True)

        self.play(scene)

    def test_sources_and_sizes_are_swept(self) -> None:
        async def scene(bed: Bed) -> None:
            async with bed.database.sessions.begin() as session:
                other = Source(
                    study_id=bed.source.study_id, name="tall.png", original=bed.store.put(as_file(harbour(144, 96, 5))),
                    format="PNG", width=96, height=144, has_alpha=False, notes=[], framing={"ground": "#ffffff"},
                )  # fmt: skip
                session.add(other)
                await session.flush()
                ids = (str(bed.source.id), str(other.id))
            sweep = await bed.start(SMALL, [Span(control="size", values=(64, 96)), Span(control="source", values=ids)])
            await bed.work()
            async with bed.database.sessions() as session:
                found = await planning.sweep_with_takes(session, sweep)
                assert found is not None
                takes = [cell.take for cell in found.cells]
                self.assertEqual([str(t.source_id) for t in takes], [*ids, *ids])
                sizes = [(t.width, t.height) for t in takes]
                self.assertEqual(sizes, [(64, 43), (43, 64), (96, 64), (64, 96)])
                self.assertTrue(all(t.state == "done" and bed.store.has(t.thumb or "") for t in takes))
                with self.assertRaisesRegex(BadInput, "not one of this study"):
                    await bed.plan(session, SMALL, [Span(control="source", values=(str(uuid.uuid4()),))])

        self.play(scene)

    def test_tips_and_reading_again(self) -> None:
        async def scene(bed: Bed) -> None:
            spans = [Span(control="guidance", values=(3, 7)), Span(control="strength", values=(0.1, 0.5, 0.7, 1.0))]
            free = SMALL.changed(lines=0.0, shapes=0.0, colours=0.0, size=96, steps=8)
            sweep = await bed.start(free, spans)
            await bed.work()
            async with bed.database.sessions() as session:
                found = await planning.sweep_with_takes(session, sweep)
                assert found is not None
                rows = tips.row_tips(found)
                self.assertEqual([(r.values, r.strengths) for r in rows], [({"guidance": 3}, 4), ({"guidance": 7}, 4)])
                for row in rows:
                    assert row.tip is not None
                    self.assertGreater(row.tip.fall, 15)
            async with bed.database.sessions.begin() as session:
                ids = select(Cell.take_id).where(Cell.sweep_id == sweep)
                takes = list(await session.scalars(select(Take).where(Take.id.in_(ids))))
                before = [t.readings for t in takes]
                takes[0].readings = {**(takes[0].readings or {}), "version": 1, "composition": -1.0}
            study = bed.source.study_id
            self.assertEqual(await reread(bed.database, bed.store, study, False), (1, 0))
            self.assertEqual(await reread(bed.database, bed.store, study, False), (0, 0))
            self.assertEqual(await reread(bed.database, bed.store, study, True), (8, 0))
            async with bed.database.sessions() as session:
                again = list(await session.scalars(select(Take).where(Take.id.in_([t.id for t in takes]))))
                self.assertEqual({str(t.readings) for t in again}, {str(r) for r in before})
            with self.assertRaisesRegex(BadInput, "no study"):
                await reread(bed.database, bed.store, uuid.uuid4(), False)

        self.play(scene)

    def test_a_halo_is_told_against_lower_guidance_only(self) -> None:
        async def scene(bed: Bed) -> None:
            sweep = await bed.start(
                SMALL, [Span(control="guidance", values=(2, 6, 9)), Span(control="seed", values=(1, 2))]
            )
            asked: list[tuple[float, int]] = []

            def pretend(take: object, calmer: object) -> bool:
                asked.append((float(np.mean(np.asarray(take))), int(np.asarray(calmer).shape[0])))
                return True

            with unittest.mock.patch.object(rendering, "has_halo", pretend):
                await bed.work()
            async with bed.database.sessions() as session:
                found = await planning.sweep_with_takes(session, sweep)
                assert found is not None
                told = {
                    (c.take.recipe.body["guidance"], c.take.recipe.body["seed"]): "halo"
                    in (c.take.readings or {})["warnings"]
                    for c in found.cells
                }
            # Guidance 2 has nothing calmer to be held against; the others are held against the next lower one.
            self.assertEqual({key for key, halo in told.items() if halo}, {(6, 1), (6, 2), (9, 1), (9, 2)})
            self.assertEqual(len(asked), 4)

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
            await bed.work()
            self.assertEqual(await bed.states(sweep), ["failed"])
            async with bed.database.sessions() as session:
                fault = await session.scalar(
                    select(Take.fault).join(Cell, Cell.take_id == Take.id).where(Cell.sweep_id == sweep)
                )
            self.assertRegex(fault or "", "file is missing")

        self.play(scene)

    def test_what_a_lost_worker_left_is_taken_up(self) -> None:
        async def scene(bed: Bed) -> None:
            sweep = await bed.start(SMALL, [Span(control="seed", values=(1, 2))])
            async with bed.database.sessions.begin() as session:
                jobs = list(
                    await session.scalars(text("select id from procrastinate_jobs where status = 'todo' order by id"))
                )
            # One job hangs on a worker that has not been heard of for a minute, the other is gone altogether.
            await bed.lose_worker(jobs[:1])
            async with bed.database.sessions.begin() as session:
                await session.execute(text("delete from procrastinate_events where job_id = :j"), {"j": jobs[1]})
                await session.execute(text("delete from procrastinate_jobs where id = :j"), {"j": jobs[1]})
                await session.execute(
                    text("update take set state = 'running', step = 3 where job_id = any(:j)"), {"j": jobs}
                )
            async with bed.database.sessions.begin() as session:
                self.assertEqual(len(await revive_stalled(bed.app, session)), 1)
            async with bed.database.sessions.begin() as session:
                self.assertEqual(len(await requeue_orphans(bed.app, session)), 1)
            async with bed.database.sessions.begin() as session:
                self.assertEqual(await requeue_orphans(bed.app, session), [])
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
        self.assertEqual(make_app(database_address()).tasks[TASK].queue, TAKES)
