"""The store, the tables and the migrations, against a real PostgreSQL."""

import asyncio
import os
import tempfile
import unittest
import uuid
from pathlib import Path
from unittest.mock import patch

import psycopg
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import create_engine
from sqlalchemy.exc import IntegrityError

from tests.stack import database_address
from warmtide.records.database import Database, async_address
from warmtide.records.migrate import migrate
from warmtide.records.models import Base, Mark, RecipeRow, Source, Study, Take
from warmtide.records.store import ImageStore, LostPicture, MissingPicture


class Store(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.store = ImageStore(folder.name)

    def test_the_same_bytes_are_kept_once(self) -> None:
        first, second, other = self.store.put(b"tide"), self.store.put(b"tide"), self.store.put(b"lamp")
        self.assertEqual(first, second)
        self.assertNotEqual(first, other)
        self.assertEqual(self.store.get(first), b"tide")
        self.assertEqual(len([p for p in self.folder.rglob("*") if p.is_file()]), 2)

    def test_names_are_only_hashes(self) -> None:
        for name in ("../../etc/passwd", "", "a" * 63, "A" * 64):
            with self.assertRaises(KeyError):
                self.store.get(name)
        with self.assertRaises(MissingPicture):
            self.store.get("0" * 64)
        self.assertFalse(self.store.has("0" * 64))

    def test_a_damaged_file_is_never_given_out_and_is_mended_by_its_bytes(self) -> None:
        name = self.store.put(b"tide and lamps")
        path = self.folder / name[:2] / name[2:]
        for damaged in (b"tide and lam", b"tide and lampz", b""):
            path.write_bytes(damaged)
            with self.assertRaisesRegex(LostPicture, "damaged"):
                self.store.get(name)
            self.assertEqual(self.store.put(b"tide and lamps"), name)
            self.assertEqual(self.store.get(name), b"tide and lamps")

    def test_a_write_that_fails_leaves_nothing(self) -> None:
        with (
            patch.object(self.store._files, "mv", side_effect=OSError(28, "No space left")),
            self.assertRaises(OSError),
        ):
            self.store.put(b"tide")
        self.assertEqual([p for p in self.folder.rglob("*") if p.is_file()], [])

    def test_everything_that_is_kept_and_what_a_dead_writer_left(self) -> None:
        names = {self.store.put(text): len(text) for text in (b"tide", b"lantern")}
        folder = next(self.folder.iterdir())
        fresh, old = folder / "half.1", folder / "half.2"
        for part in (fresh, old):
            part.write_bytes(b"ti")
        os.utime(old, (1, 1))
        self.assertEqual({kept.digest: kept.size for kept in self.store.everything()}, names)
        self.assertTrue(old.exists())
        self.store.remove_parts()
        self.assertEqual({kept.digest: kept.size for kept in self.store.everything()}, names)
        self.assertTrue(fresh.exists())
        self.assertFalse(old.exists())

    def test_another_kind_of_store(self) -> None:
        memory = ImageStore(f"memory://{uuid.uuid4()}")
        self.assertEqual(memory.get(memory.put(b"tide")), b"tide")


class Tables(unittest.TestCase):
    def setUp(self) -> None:
        self.address = database_address()

    def test_migrations_make_exactly_the_models(self) -> None:
        engine = create_engine(async_address(self.address))
        with engine.connect() as connection:

            def ours(name: str | None, kind: str, _parents: object) -> bool:
                return not (kind == "table" and (name or "").startswith("procrastinate_"))

            context = MigrationContext.configure(connection, opts={"include_name": ours})
            self.assertEqual(compare_metadata(context, Base.metadata), [])
        engine.dispose()

    def test_migrating_twice_is_harmless(self) -> None:
        migrate(self.address)
        with psycopg.connect(self.address) as connection:
            self.assertEqual(connection.execute("select count(*) from alembic_version").fetchone(), (1,))

    def test_a_take_is_kept_once_and_marks_go_with_their_study(self) -> None:
        async def work() -> None:
            database = Database(self.address)
            key = uuid.uuid4().hex * 2
            async with database.sessions.begin() as session:
                study = Study(name="tables")
                study.sources = [
                    Source(
                        name="a",
                        original="0" * 64,
                        format="PNG",
                        width=1,
                        height=1,
                        has_alpha=False,
                        notes=[],
                        framing={},
                    )
                ]
                recipe = RecipeRow(digest=uuid.uuid4().hex * 2, body={})
                session.add_all([study, recipe])
                await session.flush()
                take = Take(
                    key=key,
                    source_id=study.sources[0].id,
                    recipe_id=recipe.id,
                    engine="1",
                    width=1,
                    height=1,
                    state="done",
                )
                session.add(take)
                await session.flush()
                mark = Mark(study_id=study.id, take_id=take.id, value="keep")
                session.add(mark)
            async with database.sessions() as session:
                session.add(Take(key=key, recipe_id=recipe.id, engine="1", width=1, height=1, state="done"))
                with self.assertRaises(IntegrityError):
                    await session.flush()
            async with database.sessions.begin() as session:
                await session.delete(await session.get_one(Study, study.id))
            async with database.sessions() as session:
                self.assertIsNone(await session.get(Mark, mark.id))
                kept = await session.get_one(Take, take.id)
                self.assertIsNone(kept.source_id)
            await database.close()

        asyncio.run(work())
