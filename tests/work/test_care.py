"""What is seen to while the program runs: lost workers, what fills in, deleted work and its files, damaged files."""

import asyncio
import json
import os
import time
import unittest
import uuid
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest.mock import patch

import psycopg
from sqlalchemy import select, text

from tests.bed import SMALL, Bed, OnABed
from warmtide.core.model.recipe import Recipe
from warmtide.core.model.sweep import Span
from warmtide.records.models import Cell, Source, StackRow, StackVersion, Study, Sweep, Take
from warmtide.work import lineup, planning, rendering
from warmtide.work.behind import Gate
from warmtide.work.check import check
from warmtide.work.copying import copied
from warmtide.work.disk import Usage, check_room
from warmtide.work.forget import YOUNG_SECONDS, forget_deleted, forget_files
from warmtide.work.queue import CHANNEL, DIED, LATER, MOST_DEATHS, requeue_orphans, revive_stalled


async def take_of(bed: Bed, sweep: uuid.UUID) -> Take:
    async with bed.database.sessions() as session:
        found = await session.scalars(select(Take).join(Cell, Cell.take_id == Take.id).where(Cell.sweep_id == sweep))
        return found.first()  # type: ignore[return-value]


def path_of(bed: Bed, digest: str | None) -> Path:
    return Path(bed.store._path(str(digest)))


class Lost(OnABed):
    async def die(self, bed: Bed, take: Take) -> list[str]:
        """A worker takes the job up and is not heard of any more."""
        await bed.lose_worker()
        async with bed.database.sessions.begin() as session:
            await session.execute(text("update take set state = 'running' where id = :id"), {"id": take.id})
        async with bed.database.sessions.begin() as session:
            return await revive_stalled(bed.app, session)

    def test_a_take_that_costs_three_workers_fails_and_never_comes_back_by_itself(self) -> None:
        async def scene(bed: Bed) -> None:
            sweep = await bed.start(SMALL, [])
            take = await take_of(bed, sweep)
            for death in range(1, MOST_DEATHS + 1):
                self.assertEqual(await self.die(bed, take), [str(take.id)])
                self.assertEqual(await bed.states(sweep), ["queued" if death < MOST_DEATHS else "failed"])
            async with bed.database.sessions.begin() as session:
                self.assertEqual(await requeue_orphans(bed.app, session), [])
                self.assertEqual(await revive_stalled(bed.app, session), [])
                self.assertEqual(await session.scalar(text("select count(*) from procrastinate_jobs")), 0)
            self.assertEqual((await take_of(bed, sweep)).fault, DIED)
            # The artist may try again, and then it has three lives again.
            await bed.start(SMALL, [])
            await bed.work()
            self.assertEqual(await bed.states(sweep), ["done"])
            self.assertEqual((await take_of(bed, sweep)).deaths, 0)

        self.play(scene)

    def test_a_clock_that_was_set_back_hides_nobody(self) -> None:
        async def scene(bed: Bed) -> None:
            sweep = await bed.start(SMALL, [])
            async with bed.database.sessions.begin() as session:
                worker = await session.scalar(
                    text(
                        "insert into procrastinate_workers (last_heartbeat) values (now() + interval '1 hour') returning id"
                    )
                )
                await session.execute(
                    text("update procrastinate_jobs set status = 'doing', worker_id = :w"), {"w": worker}
                )
            for found in (0, 1):
                async with bed.database.sessions.begin() as session:
                    self.assertEqual(len(await revive_stalled(bed.app, session)), found)
            await bed.work()
            self.assertEqual(await bed.states(sweep), ["done"])

        self.play(scene)

    def test_a_take_whose_telling_failed_is_not_rendered_for_ever(self) -> None:
        async def scene(bed: Bed) -> None:
            sweep = await bed.start(SMALL, [])
            calls = []

            async def broken(*given: object, **more: object) -> None:
                calls.append(given)
                raise psycopg.OperationalError("gone")

            for _ in range(20):
                with patch.object(rendering, "tell", broken):
                    await bed.work()
                async with bed.database.sessions.begin() as session:
                    if not await requeue_orphans(bed.app, session):
                        break
            self.assertEqual(await bed.states(sweep), ["failed"])
            self.assertEqual(len(calls), 10)

        self.play(scene)

    def test_notices_stay_short_whatever_the_prompt(self) -> None:
        async def scene(bed: Bed) -> None:
            wide = Recipe(size=64, steps=2, prompt="灯" * 1400)
            with psycopg.connect(bed.database.address, autocommit=True) as listener:
                listener.execute(f"listen {CHANNEL}")
                sweep = await bed.start(wide, [])
                await bed.work()
                heard = [notice.payload for notice in listener.notifies(timeout=0.5)]
            self.assertEqual(await bed.states(sweep), ["done"])
            self.assertTrue(heard)
            self.assertLess(max(map(len, heard)), 200)
            self.assertEqual({json.loads(said)["take"] for said in heard}, {str((await take_of(bed, sweep)).id)})

        self.play(scene)


class Behind(OnABed):
    def test_what_fills_in_comes_last_and_is_brought_forward_when_it_is_wanted(self) -> None:
        async def scene(bed: Bed) -> None:
            spans = [Span(control="seed", values=(61, 62))]
            async with bed.database.sessions.begin() as session:
                planned = await bed.plan(session, SMALL, spans)
                filling = (await planning.start(session, bed.app, bed.source, planned, SMALL, spans, behind=1)).id
            wanted = await bed.start(SMALL.changed(seed=63), [])
            async with bed.database.sessions() as session:
                waiting = await lineup.lineup(session, 1)
                self.assertEqual([w.sweep.id for w in waiting], [wanted, filling])
            await bed.work()
            self.assertEqual((await bed.states(wanted), await bed.states(filling)), (["done"], ["queued"] * 2))
            # The same take in a sweep of the artist's own.
            own = await bed.start(SMALL.changed(seed=61), [])
            await bed.work()
            self.assertEqual((await bed.states(own), await bed.states(filling)), (["done"], ["done", "queued"]))
            await bed.app.run_worker_async(queues=[LATER], wait=False, install_signal_handlers=False)
            self.assertEqual(await bed.states(filling), ["done"] * 2)

        self.play(scene)

    def test_what_fills_in_stands_still_while_somebody_waits(self) -> None:
        async def scene(bed: Bed) -> None:
            gate = Gate(bed.database.address)

            async def is_open(wanted: bool) -> bool:
                deadline = time.monotonic() + 20
                while gate._open.is_set() != wanted and time.monotonic() < deadline:
                    await asyncio.sleep(0.02)
                return gate._open.is_set()

            sweep = await bed.start(SMALL.changed(seed=67), [])
            self.assertFalse(await is_open(False))
            async with bed.database.sessions.begin() as session:
                await lineup.pause(session, [sweep], True)
            self.assertTrue(await is_open(True))
            async with bed.database.sessions.begin() as session:
                await lineup.pause(session, [sweep], False)
            self.assertFalse(await is_open(False))
            await bed.work()
            self.assertTrue(await is_open(True))
            gate.pass_through()

        self.play(scene)


class Forgotten(OnABed):
    def test_files_go_when_nothing_holds_them_and_they_are_a_day_old(self) -> None:
        async def scene(bed: Bed) -> None:
            gone, kept = await bed.start(SMALL.changed(seed=71), []), await bed.start(SMALL.changed(seed=72), [])
            await bed.work()
            lost, held = await take_of(bed, gone), await take_of(bed, kept)
            layer = bed.store.put(b"a layer of a version that was undone")
            async with bed.database.sessions.begin() as session:
                touched = StackRow(study_id=bed.source.study_id, name="touched", parents=[])
                session.add(touched)
                await session.flush()
                session.add(StackVersion(stack_id=touched.id, number=1, body={}, files=[layer]))
                (await session.get_one(Sweep, gone)).deleted = datetime.now(UTC) - timedelta(days=8)
                await session.flush()
                await forget_deleted(session)
                self.assertIsNone(await session.get(Take, lost.id))
                # Young files may belong to what is being written.
                self.assertEqual(await forget_files(session, bed.store), 0)
                for kept_file in list(bed.store.everything()):
                    old = time.time() - YOUNG_SECONDS - 60
                    os.utime(path_of(bed, kept_file.digest), (old, old))
                # Taken up again by an upload meanwhile.
                again = bed.store.put(path_of(bed, lost.thumb).read_bytes())
                self.assertGreater(await forget_files(session, bed.store), 0)
            self.assertEqual(again, lost.thumb)
            self.assertTrue(bed.store.has(again))
            self.assertFalse(bed.store.has(str(lost.image)))
            for digest in (held.image, held.preview, held.thumb, bed.source.original, layer):
                self.assertTrue(bed.store.has(str(digest)))

        self.play(scene)

    def test_what_studies_take_is_told(self) -> None:
        async def scene(bed: Bed) -> None:
            sweep = await bed.start(SMALL, [])
            await bed.work()
            take = await take_of(bed, sweep)
            names = {bed.source.original, take.image, take.preview, take.thumb}
            async with bed.database.sessions() as session:
                whole, by_study = await Usage(bed.store).of_studies(session)
            size = sum(path_of(bed, name).stat().st_size for name in names)
            self.assertEqual(by_study[bed.source.study_id], size)
            self.assertEqual(whole, size)
            with self.assertRaisesRegex(Exception, "make room on it or run fewer takes"):
                check_room(bed.store, 10**18)
            check_room(bed.store, 1)

        self.play(scene)


class Checked(OnABed):
    def test_lost_pictures_are_found_and_made_again(self) -> None:
        async def scene(bed: Bed) -> None:
            spans = [Span(control="seed", values=(81, 82, 83))]
            sweep = await bed.start(SMALL, spans)
            await bed.work()
            async with bed.database.sessions() as session:
                found = await planning.sweep_with_takes(session, sweep)
                assert found is not None
                takes = [cell.take for cell in found.cells]
            before = [path_of(bed, take.image).read_bytes() for take in takes]
            path_of(bed, takes[0].image).unlink()
            path_of(bed, takes[1].image).write_bytes(before[1][:-100])
            path_of(bed, takes[2].thumb).write_bytes(b"no picture")
            report = await check(bed.database, bed.store, None)
            ours = [line for line in report.lost if any(str(take.id) in line for take in takes)]
            self.assertEqual(len(ours), 3)
            self.assertEqual(await bed.states(sweep), ["done"] * 3)
            await check(bed.database, bed.store, bed.app)
            self.assertEqual(await bed.states(sweep), ["queued", "queued", "done"])
            await bed.work()
            self.assertEqual(await bed.states(sweep), ["done"] * 3)
            for take, data in zip(takes, before, strict=True):
                self.assertEqual(path_of(bed, take.image).read_bytes(), data)
                bed.store.get(str(take.thumb))

        self.play(scene)

    def test_a_sweep_that_is_run_again_makes_what_was_lost(self) -> None:
        async def scene(bed: Bed) -> None:
            sweep = await bed.start(SMALL, [])
            await bed.work()
            path_of(bed, (await take_of(bed, sweep)).image).unlink()
            async with bed.database.sessions() as session:
                self.assertEqual((await bed.plan(session, SMALL, [])).new, 1)
            await bed.start(SMALL, [])
            await bed.work()
            bed.store.get(str((await take_of(bed, sweep)).image))

        self.play(scene)

    def test_a_source_that_is_lost_is_named(self) -> None:
        async def scene(bed: Bed) -> None:
            path_of(bed, bed.source.original).unlink()
            async with bed.database.sessions.begin() as session:
                study = await session.get_one(Study, bed.source.study_id)
                study.name = f"Study {uuid.uuid4()}"
                self.assertIsNotNone(await session.get(Source, bed.source.id))
                name = study.name
            report = await check(bed.database, bed.store, bed.app)
            self.assertTrue(any(name in line and "bring it in again" in line for line in report.lost))

        self.play(scene)


if __name__ == "__main__":
    unittest.main()

    def test_a_take_that_a_copy_shows_has_its_source_there(self) -> None:
        async def scene(bed: Bed) -> None:
            take = await take_of(bed, await bed.start(SMALL.changed(seed=74), []))
            await bed.work()
            async with bed.database.sessions.begin() as session:
                study = await session.get_one(Study, bed.source.study_id)
                number = await copied(session, study)
                study.deleted = datetime.now(UTC) - timedelta(days=8)
                await session.flush()
                await forget_deleted(session)
            async with bed.database.sessions.begin() as session:
                own = await session.scalar(select(Source.id).where(Source.study_id == number))
                self.assertIsNotNone(own)
                self.assertEqual((await session.get_one(Take, take.id)).source_id, own)

        self.play(scene)
