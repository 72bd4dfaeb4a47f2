"""Enlargements on the queue: made once, tried again after a death, refused where there is no room."""

import unittest.mock
import uuid

from sqlalchemy import select, text

from tests.bed import SMALL, Bed, OnABed
from warmtide.core.model.errors import BadInput
from warmtide.core.pictures.image import decode
from warmtide.core.pictures.inside import recipe_inside
from warmtide.records.models import Cell, Enlargement, Take, TakeState
from warmtide.work import enlarging
from warmtide.work.disk import Room
from warmtide.work.forget import held_files
from warmtide.work.queue import DIED_LARGE, MOST_DEATHS, revive_stalled


class Enlarging(OnABed):
    async def take(self, bed: Bed) -> uuid.UUID:
        sweep = await bed.start(SMALL, [])
        await bed.work()
        async with bed.database.sessions() as session:
            found = await session.scalar(select(Cell.take_id).where(Cell.sweep_id == sweep))
        assert found is not None
        return found

    async def planned(self, bed: Bed, take_id: uuid.UUID, way: str, side: int) -> uuid.UUID:
        async with bed.database.sessions.begin() as session:
            take = await session.get(Take, take_id)
            assert take is not None
            await session.refresh(take, ["recipe"])
            height = round(take.height * side / take.width)
            row = await enlarging.plan(session, bed.app, bed.store, bed.source.study_id, take, way, height, side)
            return row.id

    async def row(self, bed: Bed, enlargement: uuid.UUID) -> Enlargement:
        async with bed.database.sessions() as session:
            found = await session.get(Enlargement, enlargement)
        assert found is not None
        return found

    def test_a_larger_picture_is_made_once_and_its_files_are_held(self) -> None:
        async def scene(bed: Bed) -> None:
            take = await self.take(bed)
            first = await self.planned(bed, take, "painted", 128)
            self.assertEqual(await self.planned(bed, take, "painted", 128), first)
            await bed.work()
            row = await self.row(bed, first)
            self.assertEqual((row.state, row.done, row.fault), (TakeState.DONE, 100, None))
            data = bed.store.get(str(row.image))
            self.assertEqual(decode(data).rgba.shape[:2], (row.height, 128))
            self.assertEqual((recipe_inside(data) or {})["enlarged"]["way"], "painted")
            self.assertGreater((row.figures or {})["kept"], 90)
            async with bed.database.sessions() as session:
                self.assertLessEqual({row.image, row.preview}, await held_files(session))

        self.play(scene)

    def test_one_that_is_stopped_is_not_made_and_can_be_asked_for_again(self) -> None:
        async def scene(bed: Bed) -> None:
            take = await self.take(bed)
            asked = await self.planned(bed, take, "edges", 256)
            async with bed.database.sessions.begin() as session:
                row = await session.get(Enlargement, asked)
                assert row is not None
                await enlarging.stop(session, bed.app, row)
            await bed.work()
            self.assertEqual((await self.row(bed, asked)).state, TakeState.STOPPED)
            self.assertEqual(await self.planned(bed, take, "edges", 256), asked)
            await bed.work()
            self.assertEqual((await self.row(bed, asked)).state, TakeState.DONE)

        self.play(scene)

    def test_one_whose_worker_dies_is_tried_again_until_it_has_cost_several(self) -> None:
        async def scene(bed: Bed) -> None:
            take = await self.take(bed)
            asked = await self.planned(bed, take, "edges", 256)
            for death in range(1, MOST_DEATHS + 1):
                await bed.lose_worker()
                async with bed.database.sessions.begin() as session:
                    await session.execute(
                        text("update enlargement set state = 'running', done = 40 where id = :i"), {"i": asked}
                    )
                async with bed.database.sessions.begin() as session:
                    self.assertEqual(await revive_stalled(bed.app, session), [])
                row = await self.row(bed, asked)
                self.assertEqual((row.deaths, row.state), (death, "failed" if death == MOST_DEATHS else "queued"))
            self.assertEqual((await self.row(bed, asked)).fault, DIED_LARGE)

        self.play(scene)

    def test_what_can_not_be_made_is_refused_and_nothing_is_left(self) -> None:
        async def scene(bed: Bed) -> None:
            take = await self.take(bed)
            full = unittest.mock.patch("warmtide.work.disk.room", return_value=Room(10**12, 250_000_000))
            with full, self.assertRaisesRegex(BadInput, "make room"):
                await self.planned(bed, take, "edges", 8192)
            async with bed.database.sessions.begin() as session:
                with self.assertRaisesRegex(BadInput, "needs a take"):
                    await enlarging.plan(
                        session,
                        bed.app,
                        bed.store,
                        bed.source.study_id,
                        await session.merge(bed.source),
                        "painted",
                        96,
                        144,
                    )
                self.assertEqual(
                    await session.scalar(text("select count(*) from enlargement where way = 'edges' and width = 8192")),
                    0,
                )
            # The take's picture is lost: one sentence, and the others go on.
            asked = await self.planned(bed, take, "edges", 128)
            async with bed.database.sessions.begin() as session:
                found = await session.get(Take, take)
                assert found is not None
                bed.store.remove(str(found.image))
            await bed.work()
            row = await self.row(bed, asked)
            self.assertEqual(row.state, TakeState.FAILED)
            self.assertNotIn("Traceback", str(row.fault))

        self.play(scene)
