"""What a worker does with one job."""

import asyncio
import threading
import time
import uuid
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from datetime import UTC, datetime
from typing import Any, cast

import psycopg
import structlog
from procrastinate import JobContext
from sqlalchemy import select
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.ext.asyncio import AsyncSession
from sqlalchemy.orm import selectinload

from ..core.job.engine import engine_of
from ..core.job.take import Rendered, render
from ..core.job.told import Origin, told, way_of
from ..core.maths.arrays import Byte
from ..core.model.cache import SharedCache
from ..core.model.errors import BadInput, Cancelled
from ..core.model.recipe import BUILT_IN, Recipe, recipe_from
from ..core.pictures.framing import Framing
from ..core.pictures.image import decode
from ..core.readings.warnings import has_halo
from ..records.database import Database
from ..records.models import RecipeRow, Source, Take, TakeState
from ..records.store import ImageStore, LostPicture, StoreAway, refused_by_disk
from .framer import Framer
from .learned import know
from .memory import give_back
from .pictures import Kept, keep_pictures
from .presence import Presence
from .queue import defer, queue_of, tell

_TELL_EVERY = 0.1
# Faults that have a sentence of their own.
KNOWN = (BadInput, LostPicture, StoreAway)
# Bytes that takes of a sweep may share in one worker.
_SHARED = 140_000_000
log = structlog.get_logger()


class Tools:
    """What a worker process keeps between takes."""

    def __init__(self, database: Database, store: ImageStore, give_way: Callable[[], None] | None = None) -> None:
        self.database, self.store = database, store
        # Called between the steps of a take, where others may go first.
        self.give_way = give_way
        self.framer = Framer(store)
        self.cache = SharedCache(_SHARED)
        self.presence: Presence | None = None
        self.keeper = ThreadPoolExecutor(1)
        self._teller: psycopg.AsyncConnection[Any] | None = None

    async def teller(self) -> "psycopg.AsyncConnection[Any]":
        """A connection of its own for progress, so that it never waits for a transaction."""
        if self._teller is None or self._teller.closed:
            self._teller = await psycopg.AsyncConnection.connect(self.database.address, autocommit=True)
        return self._teller

    async def close(self) -> None:
        self.keeper.shutdown()
        if self._teller is not None:
            await self._teller.close()
        await self.database.close()


async def render_take(tools: Tools, context: JobContext, take_id: uuid.UUID) -> None:
    """Render, read, keep and tell. Running twice is harmless: a take that is done stays as it is.

    Raises
    ------
    psycopg.Error, sqlalchemy.exc.SQLAlchemyError, OSError : the database or its connection is gone; the take is put back
    when both are there again (`queue.requeue_orphans`).
    """
    async with tools.database.sessions() as session:
        take = await session.scalar(
            select(Take).where(Take.id == take_id).options(selectinload(Take.recipe), selectinload(Take.source))
        )
        if take is None or take.state not in (TakeState.QUEUED, TakeState.RUNNING):
            return
        take.state = TakeState.RUNNING
        await session.commit()
        connection = await tools.teller()
        await tell(connection, take_id)
        seconds: float | None = None
        if tools.presence is not None:
            tools.presence.begin(take_id)
        try:
            rendered, (image, preview, thumb) = await _rendered(tools, take, context)
            seconds = rendered.seconds
        except Cancelled:
            await session.refresh(take)
            if take.state == TakeState.RUNNING:
                # This worker is shutting down; nobody stopped the take, so it goes back in the queue.
                take.state, take.step = TakeState.QUEUED, 0
                take.job_id = await defer(context.app, session, take.id, queue=queue_of(take.engine))
                await session.commit()
            log.info("take stopped", take=str(take_id), again=take.state == TakeState.QUEUED)
            return
        except (psycopg.Error, SQLAlchemyError):
            raise
        except Exception as error:
            take.state, take.fault = TakeState.FAILED, sentence_for(error)
            log.warning("take failed", take=str(take_id), exc_info=not isinstance(error, KNOWN))
            await session.commit()
            await tell(connection, take_id)
            return
        finally:
            if tools.presence is not None:
                tools.presence.end(take_id, seconds)
        readings = rendered.reading.stored()
        if await _shows_halo(tools.store, session, take, rendered.picture):
            readings["warnings"] = [*readings["warnings"], "halo"]
        # A stop that arrives with the last step loses to the finished take: nothing is thrown away.
        take.state, take.step, take.deaths, take.losses, take.fault = TakeState.DONE, take.steps, 0, 0, None
        take.image, take.preview, take.thumb, take.bytes = image[0], preview, thumb, image[1]
        take.seconds, take.readings, take.finished = rendered.seconds, readings, datetime.now(UTC)
        await session.commit()
        await tell(connection, take_id)
        log.info("take done", take=str(take_id), seconds=rendered.seconds)


def sentence_for(error: Exception) -> str:
    """What a take says that could not be rendered."""
    if isinstance(error, BadInput | LostPicture | StoreAway):
        return str(error)
    if (said := refused_by_disk(error)) is not None:
        return said
    if isinstance(error, MemoryError):
        return "There is not enough memory for a take of this size; make it smaller and run it again."
    return "The take could not be rendered; run it again or change its recipe."


async def _shows_halo(store: ImageStore, session: AsyncSession, take: Take, picture: Byte) -> bool:
    """Whether a take has rims that the same recipe at lower guidance, if that is rendered, has not."""
    guidance = RecipeRow.body["guidance"].as_float()
    calmer = await session.scalar(
        select(Take.image)
        .join(RecipeRow, RecipeRow.id == Take.recipe_id)
        .where(
            Take.source_id == take.source_id,
            Take.state == TakeState.DONE,
            Take.image.is_not(None),
            RecipeRow.body.op("-")("guidance") == {k: v for k, v in take.recipe.body.items() if k != "guidance"},
            guidance < float(take.recipe.body["guidance"]),
        )
        .order_by(guidance.desc())
        .limit(1)
    )
    if calmer is None:
        return False
    try:
        other = await asyncio.to_thread(lambda: decode(store.get(calmer)).rgba[..., :3])
    except (LostPicture, BadInput):
        return False
    return other.shape == picture.shape and has_halo(picture, other)


def _origin(store: ImageStore, take: Take, source: Source) -> Origin:
    """What a take's file tells of its source; one that was a take says how that came about."""
    depth = source.depth if take.recipe.body["holds"].get("depth", 0) > 0 else None
    led = {"region": take.region, "subject": take.subject, "depth": depth}
    return Origin(
        source.name, source.original, Framing.model_validate(take.framing or source.framing),
        way_of(store.get(source.original)) if source.parents else None, cast("list[Any] | None", take.faces),
        {name: digest for name, digest in led.items() if digest is not None},
    )  # fmt: skip


def _same_engine(take: Take, recipe: Recipe) -> None:
    """Refuse a take that was planned for another version of its engine: its key would tell a lie."""
    engine = engine_of(recipe)
    if engine.tag != take.engine:
        raise BadInput(f"This take was planned for {take.engine}, and the engine is {engine.tag} by now; run it again.")


async def _rendered(tools: Tools, take: Take, context: JobContext) -> tuple[Rendered, Kept]:
    """Render in a thread while this loop passes progress on and watches for a stop; the picture is kept while it is read."""
    if take.source is None:
        raise BadInput("The source of this take is gone; bring it in again.")
    recipe = recipe_from(take.recipe.body)
    _same_engine(take, recipe)
    source, _ = await tools.framer.framed(take.source, recipe.size, take.framing)
    guides = await tools.framer.guides(take.source, recipe, take)
    async with tools.database.sessions() as session:
        await know(session, tools.store, recipe.looks if recipe.engine == BUILT_IN else ())
    stopped = threading.Event()
    latest = [0]

    def progress(done: int, steps: int) -> None:
        latest[0] = done
        if give_way is not None:
            give_way()
        if stopped.is_set():
            raise Cancelled

    origin = await asyncio.to_thread(_origin, tools.store, take, take.source)
    keeping: list[Future[Kept]] = []
    keeper, store, give_way = tools.keeper, tools.store, tools.give_way

    def painted(picture: Byte) -> None:
        keeping.append(
            keeper.submit(keep_pictures, store, picture, told(picture, recipe, take.key, origin, take.engine))
        )

    work = asyncio.create_task(asyncio.to_thread(render, source, recipe, progress, tools.cache, guides, painted))
    said, began = 0, time.perf_counter()
    connection = await tools.teller()
    while not work.done():
        await asyncio.wait({work}, timeout=_TELL_EVERY)
        if work.done():
            break
        if context.should_abort():
            stopped.set()
        if latest[0] != said:
            said = latest[0]
            # Kept too, for a browser that opens the study in the middle of a take.
            await connection.execute("update take set step = %s where id = %s and state = 'running'", (said, take.id))
            await tell(connection, take.id, step=said, steps=take.steps, elapsed=time.perf_counter() - began)
    try:
        rendered = await work
        return rendered, await asyncio.wrap_future(keeping[0])
    finally:
        await asyncio.to_thread(give_back)
