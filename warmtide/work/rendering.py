"""What a worker does with one job."""

import asyncio
import json
import threading
import time
import uuid
from concurrent.futures import Future, ThreadPoolExecutor
from datetime import UTC, datetime
from typing import Any

import psycopg
import structlog
from procrastinate import JobContext
from sqlalchemy import select
from sqlalchemy.ext.asyncio import AsyncSession
from sqlalchemy.orm import selectinload

from ..core.arrays import Byte
from ..core.engine.cache import SharedCache
from ..core.errors import BadInput, Cancelled
from ..core.image import decode, png, webp
from ..core.job import Rendered, render
from ..core.readings.warnings import has_halo
from ..core.recipe import recipe_from
from ..records.database import Database
from ..records.models import RecipeRow, Take
from ..records.store import ImageStore
from ..records.views import studies_of, take_view
from .learned import know
from .memory import give_back
from .planning import Framer
from .queue import defer, tell

_PREVIEW_SIDE = 640
# For sheets of hundreds of cells.
_THUMB_SIDE = 200
_TELL_EVERY = 0.1
# Bytes that takes of a sweep may share in one worker.
_SHARED = 140_000_000
log = structlog.get_logger()


class Tools:
    """What a worker process keeps between takes."""

    def __init__(self, database: Database, store: ImageStore) -> None:
        self.database, self.store = database, store
        self.framer = Framer(store)
        self.cache = SharedCache(_SHARED)
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


tools: Tools | None = None


def _event(kind: str, studies: list[str], **values: Any) -> str:
    return json.dumps({"event": kind, "studies": studies, **values})


async def render_take(context: JobContext, take_id: uuid.UUID) -> None:
    """Render, read, keep and tell. Running twice is harmless: a take that is done stays as it is."""
    assert tools is not None
    async with tools.database.sessions() as session:
        take = await session.scalar(
            select(Take).where(Take.id == take_id).options(selectinload(Take.recipe), selectinload(Take.source))
        )
        if take is None or take.state not in ("queued", "running"):
            return
        studies = await studies_of(session, take_id)
        take.state = "running"
        await session.commit()
        connection = await tools.teller()
        await tell(connection, _event("take", studies, take=take_view(take)))
        try:
            rendered, (image, preview, thumb) = await _rendered(take, studies, context)
        except Cancelled:
            await session.refresh(take)
            if take.state == "running":
                # This worker is shutting down; nobody stopped the take, so it goes back in the queue.
                take.state, take.step = "queued", 0
                take.job_id = await defer(context.app, session, take.id)
                await session.commit()
            log.info("take stopped", take=str(take_id), again=take.state == "queued")
            return
        except Exception as error:
            known = isinstance(error, BadInput)
            take.state = "failed"
            take.fault = str(error) if known else "The take could not be rendered; run it again or change its recipe."
            await session.commit()
            await tell(connection, _event("take", studies, take=take_view(take)))
            log.warning("take failed", take=str(take_id), exc_info=not known)
            return
        readings = rendered.reading.stored()
        if await _shows_halo(session, take, rendered.picture):
            readings["warnings"] = [*readings["warnings"], "halo"]
        # A stop that arrives with the last step loses to the finished take: nothing is thrown away.
        take.state, take.step = "done", take.steps
        take.image, take.preview, take.thumb, take.bytes = image[0], preview, thumb, image[1]
        take.seconds, take.readings, take.finished = rendered.seconds, readings, datetime.now(UTC)
        await session.commit()
        await tell(connection, _event("take", studies, take=take_view(take)))
        log.info("take done", take=str(take_id), seconds=rendered.seconds)


async def _shows_halo(session: AsyncSession, take: Take, picture: Byte) -> bool:
    """Whether a take has rims that the same recipe at lower guidance, if that is rendered, has not."""
    assert tools is not None
    guidance = RecipeRow.body["guidance"].as_float()
    calmer = await session.scalar(
        select(Take.image)
        .join(RecipeRow, RecipeRow.id == Take.recipe_id)
        .where(
            Take.source_id == take.source_id,
            Take.state == "done",
            Take.image.is_not(None),
            RecipeRow.body.op("-")("guidance") == {k: v for k, v in take.recipe.body.items() if k != "guidance"},
            guidance < float(take.recipe.body["guidance"]),
        )
        .order_by(guidance.desc())
        .limit(1)
    )
    if calmer is None:
        return False
    store = tools.store
    other = await asyncio.to_thread(lambda: decode(store.get(calmer)).rgba[..., :3])
    return other.shape == picture.shape and has_halo(picture, other)


# Name and size of the picture itself, names of its preview and its thumbnail.
Kept = tuple[tuple[str, int], str, str]


def _keep(picture: Byte, inside: dict[str, Any]) -> Kept:
    assert tools is not None
    data = png(picture, inside)
    small = [tools.store.put(webp(picture, side)) for side in (_PREVIEW_SIDE, _THUMB_SIDE)]
    return (tools.store.put(data), len(data)), small[0], small[1]


async def _rendered(take: Take, studies: list[str], context: JobContext) -> tuple[Rendered, Kept]:
    """Render in a thread while this loop passes progress on and watches for a stop; the picture is kept while it is read."""
    assert tools is not None
    if take.source is None:
        raise BadInput("The source of this take is gone; bring it in again.")
    recipe = recipe_from(take.recipe.body)
    source, _ = await tools.framer.framed(take.source, recipe.size, take.framing)
    guides = await tools.framer.guides(take.source, recipe, take)
    async with tools.database.sessions() as session:
        await know(session, tools.store, recipe.looks)
    stopped = threading.Event()
    latest = [0]

    def progress(done: int, steps: int) -> None:
        latest[0] = done
        if stopped.is_set():
            raise Cancelled

    inside = {"recipe": take.recipe.body, "key": take.key, "source": take.source.name}
    keeping: list[Future[Kept]] = []
    keeper = tools.keeper

    def painted(picture: Byte) -> None:
        keeping.append(keeper.submit(_keep, picture, inside))

    work = asyncio.create_task(asyncio.to_thread(render, source, recipe, progress, tools.cache, guides, painted))
    told, began = 0, time.perf_counter()
    connection = await tools.teller()
    while not work.done():
        await asyncio.wait({work}, timeout=_TELL_EVERY)
        if work.done():
            break
        if context.should_abort():
            stopped.set()
        if latest[0] != told:
            told = latest[0]
            event = {"id": str(take.id), "step": told, "steps": take.steps}
            # Kept too, for a browser that opens the study in the middle of a take.
            await connection.execute("update take set step = %s where id = %s and state = 'running'", (told, take.id))
            await tell(connection, _event("progress", studies, take=event, elapsed=time.perf_counter() - began))
    try:
        rendered = await work
        return rendered, await asyncio.wrap_future(keeping[0])
    finally:
        await asyncio.to_thread(give_back)
