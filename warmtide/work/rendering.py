"""What a worker does with one job."""

import asyncio
import json
import threading
import time
import uuid
from datetime import UTC, datetime
from typing import Any

import psycopg
import structlog
from procrastinate import JobContext
from sqlalchemy import select
from sqlalchemy.orm import selectinload

from ..core.engine.cache import SharedCache
from ..core.errors import BadInput, Cancelled
from ..core.image import png, webp
from ..core.job import Rendered, render
from ..core.recipe import recipe_from
from ..records.database import Database
from ..records.models import Take
from ..records.store import ImageStore
from ..records.views import studies_of, take_view
from .planning import Framer
from .queue import defer, tell

_PREVIEW_SIDE = 640
_TELL_EVERY = 0.1
log = structlog.get_logger()


class Tools:
    """What a worker process keeps between takes."""

    def __init__(self, database: Database, store: ImageStore) -> None:
        self.database, self.store = database, store
        self.framer = Framer(store)
        self.cache = SharedCache()
        self._teller: psycopg.AsyncConnection[Any] | None = None

    async def teller(self) -> "psycopg.AsyncConnection[Any]":
        """A connection of its own for progress, so that it never waits for a transaction."""
        if self._teller is None or self._teller.closed:
            self._teller = await psycopg.AsyncConnection.connect(self.database.address, autocommit=True)
        return self._teller

    async def close(self) -> None:
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
            rendered = await _rendered(take, studies, context)
            image, preview = await asyncio.to_thread(_keep, take, rendered)
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
        # A stop that arrives with the last step loses to the finished take: nothing is thrown away.
        take.state, take.step = "done", take.steps
        take.image, take.preview, take.bytes = image[0], preview, image[1]
        take.seconds, take.readings, take.finished = rendered.seconds, rendered.readings, datetime.now(UTC)
        await session.commit()
        await tell(connection, _event("take", studies, take=take_view(take)))
        log.info("take done", take=str(take_id), seconds=rendered.seconds)


def _keep(take: Take, rendered: Rendered) -> tuple[tuple[str, int], str]:
    assert tools is not None
    name = take.source.name if take.source else ""
    data = png(rendered.picture, {"recipe": take.recipe.body, "key": take.key, "source": name})
    return (tools.store.put(data), len(data)), tools.store.put(webp(rendered.picture, _PREVIEW_SIDE))


async def _rendered(take: Take, studies: list[str], context: JobContext) -> Rendered:
    """Render in a thread while this loop passes progress on and watches for a stop."""
    assert tools is not None
    if take.source is None:
        raise BadInput("The source of this take is gone; bring it in again.")
    recipe = recipe_from(take.recipe.body)
    source, _ = await tools.framer.framed(take.source, recipe.size)
    stopped = threading.Event()
    latest = [0]

    def progress(done: int, steps: int) -> None:
        latest[0] = done
        if stopped.is_set():
            raise Cancelled

    work = asyncio.create_task(asyncio.to_thread(render, source, recipe, progress, tools.cache))
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
    return await work
