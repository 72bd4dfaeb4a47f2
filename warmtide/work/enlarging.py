"""Pictures made larger: planned, made by a worker, stopped."""

import asyncio
import hashlib
import json
import threading
import time
import uuid
from typing import Any

import cv2
import numpy as np
import procrastinate
import psycopg
import structlog
from procrastinate import JobContext
from sqlalchemy import func, select
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.ext.asyncio import AsyncSession
from sqlalchemy.orm import selectinload

from ..core.finish.enlarge.kind import Job, Origin
from ..core.finish.enlarge.painted import painted_side
from ..core.finish.enlarge.registry import enlarged, way_named
from ..core.finish.enlarge.size import checked
from ..core.job.costs import expected_seconds
from ..core.job.looking import look_of
from ..core.maths.arrays import Byte
from ..core.model.errors import BadInput, Cancelled
from ..core.model.recipe import Recipe, recipe_from
from ..core.pictures.image import decode, png, webp
from ..core.pictures.inside import recipe_inside
from ..core.readings.pair import Pair, SourceReading
from ..records.models import Enlargement, Source, Take, TakeState
from ..records.store import ImageStore
from .disk import check_room
from .learned import know
from .memory import give_back
from .queue import CHANNEL, defer_enlargement
from .rendering import Tools, sentence_for

# What the key of an enlargement begins with: another number makes all anew.
_VERSION = 1
_TELL_EVERY, _HUNDRED, _PREVIEW = 0.2, 100, 640
_BYTES_A_PIXEL = 2.2
log = structlog.get_logger()


def key_of(of: str, way: str, height: int, width: int) -> str:
    """What an enlargement is known by: the same picture, way and size give the same pixels."""
    return hashlib.sha256(f"enlarge {_VERSION}\n{of}\n{way}\n{width}x{height}".encode()).hexdigest()


def seconds_for(way: str, height: int, width: int, recipe: Recipe | None) -> float:
    """Seconds of one core, before it is begun."""
    chosen = way_named(way)
    if recipe is None or not chosen.again:
        return chosen.seconds * height * width / 1e6
    side = painted_side(look_of(recipe), height, width)
    shrink = side / max(height, width)
    painting = expected_seconds(
        recipe.changed(size=side, quality="full"), round(height * shrink), round(width * shrink)
    )
    return painting + (way_named("edges").seconds * height * width / 1e6 if shrink < 1 else 0)


async def plan(
    session: AsyncSession,
    app: procrastinate.App,
    store: ImageStore,
    study_id: uuid.UUID,
    of: Take | Source,
    way: str,
    height: int,
    width: int,
) -> Enlargement:
    """An enlargement of a take or a source: the one that is there, or a new one in the queue.

    Raises
    ------
    BadInput : the way needs a recipe that a source lacks, the size can't be made, or the disk has no room.
    """
    chosen = way_named(way)
    checked(height, width)
    take = of if isinstance(of, Take) else None
    if take is None and chosen.again:
        raise BadInput(
            f"{chosen.title} needs a take; a source of its own is made larger with detail, along edges or plainly."
        )
    if take is not None and (take.state != TakeState.DONE or take.image is None):
        raise BadInput("This take is not finished; make it larger when it is.")
    here = f"{of.original} {json.dumps(of.framing, sort_keys=True)}" if isinstance(of, Source) else of.key
    key = key_of(here, way, height, width)
    found = await session.scalar(select(Enlargement).where(Enlargement.study_id == study_id, Enlargement.key == key))
    if found is not None and found.state in (TakeState.QUEUED, TakeState.RUNNING, TakeState.DONE):
        return found
    check_room(store, int(height * width * _BYTES_A_PIXEL))
    row = found or Enlargement(
        study_id=study_id,
        key=key,
        way=way,
        width=width,
        height=height,
        take_id=take and take.id,
        source_id=None if take else of.id,
    )
    row.state, row.done, row.fault, row.deaths = TakeState.QUEUED, 0, None, 0
    row.expected = seconds_for(way, height, width, recipe_from(take.recipe.body) if take is not None else None)
    session.add(row)
    await session.flush()
    same = await session.scalar(
        select(Enlargement).where(Enlargement.key == key, Enlargement.state == TakeState.DONE).limit(1)
    )
    if same is not None:
        for name in ("image", "preview", "bytes", "seconds", "figures"):
            setattr(row, name, getattr(same, name))
        row.state, row.done = TakeState.DONE, _HUNDRED
    else:
        row.job_id = await defer_enlargement(app, session, row.id)
    return row


async def stop(session: AsyncSession, app: procrastinate.App, row: Enlargement) -> None:
    """Stop an enlargement that waits or is under way; what is done stays."""
    if row.state not in (TakeState.QUEUED, TakeState.RUNNING):
        return
    row.state = TakeState.STOPPED
    if row.job_id is not None:
        await app.job_manager.cancel_job_by_id_async(row.job_id, abort=True)


async def announce(session: AsyncSession, row: Enlargement) -> None:
    """Tell every server, once the session's transaction is kept, that an enlargement has changed."""
    await session.execute(select(func.pg_notify(CHANNEL, _notice(row))))


def _notice(row: Enlargement, done: int | None = None) -> str:
    told: dict[str, Any] = {"enlargement": str(row.id), "study": str(row.study_id)}
    return json.dumps(told if done is None else {**told, "done": done})


async def enlarge(tools: Tools, context: JobContext, enlargement_id: uuid.UUID) -> None:
    """Make one picture larger, keep it and tell. Running twice is harmless.

    Raises
    ------
    psycopg.Error, sqlalchemy.exc.SQLAlchemyError, OSError : the database is gone; the job is taken up again when it is back.
    """
    async with tools.database.sessions() as session:
        row = await session.get(Enlargement, enlargement_id)
        if row is None or row.state not in (TakeState.QUEUED, TakeState.RUNNING):
            return
        row.state = TakeState.RUNNING
        await session.commit()
        connection = await tools.teller()
        await connection.execute("select pg_notify(%s, %s)", (CHANNEL, _notice(row)))
        began = time.perf_counter()
        try:
            job, inside = await _job(tools, session, row)
            large = await _made(tools, context, row, job)
            row.figures = await asyncio.to_thread(kept_of, job.picture, large)
            data = await asyncio.to_thread(
                png, large, {**inside, "enlarged": {"way": row.way, "width": row.width, "height": row.height}}
            )
            row.image = await asyncio.to_thread(tools.store.put, data)
            row.preview = await asyncio.to_thread(lambda: tools.store.put(webp(large, _PREVIEW)))
            row.bytes, row.seconds = len(data), round(time.perf_counter() - began, 3)
            row.state, row.done, row.fault = TakeState.DONE, _HUNDRED, None
        except Cancelled:
            await session.refresh(row)
            if row.state == TakeState.RUNNING:
                # This worker is shutting down; nobody stopped it, so it goes back in the queue.
                row.state, row.done = TakeState.QUEUED, 0
                row.job_id = await defer_enlargement(context.app, session, row.id)
        except (psycopg.Error, SQLAlchemyError):
            raise
        except Exception as error:
            row.state, row.fault = TakeState.FAILED, sentence_for(error)
            log.warning("enlargement failed", enlargement=str(enlargement_id), exc_info=not isinstance(error, BadInput))
        await session.commit()
        await connection.execute("select pg_notify(%s, %s)", (CHANNEL, _notice(row)))
        log.info("enlargement ended", enlargement=str(enlargement_id), state=row.state, seconds=row.seconds)


def kept_of(smaller: Byte, large: Byte) -> dict[str, float]:
    """What a larger picture kept of the smaller one and what it added, 0..100, both at the smaller size; `off`: the share of its
    pixels, percent, that are another tone there by more than 8 of 255."""
    size = (smaller.shape[1], smaller.shape[0])
    back = np.asarray(cv2.resize(large, size, interpolation=cv2.INTER_AREA), np.uint8)
    found = Pair(SourceReading(smaller, ()), back).composition
    off = float((np.abs(back.astype(int) - smaller).max(2) > 8).mean())
    return {"kept": round(found.kept, 1), "added": round(found.added, 1), "off": round(100 * off, 1)}


async def _job(tools: Tools, session: AsyncSession, row: Enlargement) -> tuple[Job, dict[str, Any]]:
    """What is to be made larger, with how it came about where it is painted again; and what its file says."""
    if row.take_id is None:
        source = await session.get(Source, row.source_id)
        if source is None:
            raise BadInput("What was to be made larger is gone.")
        return Job(await tools.framer.whole(source), row.height, row.width), {"source": source.name}
    take = await session.scalar(
        select(Take).where(Take.id == row.take_id).options(selectinload(Take.recipe), selectinload(Take.source))
    )
    if take is None or take.image is None:
        raise BadInput("The take that was to be made larger is gone.")
    image = take.image
    data = await asyncio.to_thread(tools.store.get, image)
    picture = await asyncio.to_thread(lambda: np.ascontiguousarray(decode(data).rgba[..., :3]))
    plain = {"recipe": take.recipe.body, "key": take.key, "source": take.source.name if take.source else ""}
    inside = recipe_inside(data) or plain
    if not way_named(row.way).again:
        return Job(picture, row.height, row.width), inside
    if take.source is None:
        raise BadInput("The source of this take is gone; make it larger with detail or along edges.")
    recipe = recipe_from(take.recipe.body)
    await know(session, tools.store, recipe.looks)
    look = look_of(recipe)
    side = painted_side(look, row.height, row.width)
    framed, _ = await tools.framer.framed(take.source, side, take.framing)
    guides = await tools.framer.guides(take.source, recipe.changed(size=side), take)
    return Job(
        picture, row.height, row.width, origin=Origin(recipe, look, lambda _: framed, guides), cache=tools.cache
    ), inside


async def _made(tools: Tools, context: JobContext, row: Enlargement, job: Job) -> Byte:
    """Make it in a thread while this loop passes progress on and watches for a stop."""
    stopped, latest = threading.Event(), [0]

    def progress(done: int, of: int) -> None:
        latest[0] = _HUNDRED * done // max(of, 1)
        if tools.give_way is not None:
            tools.give_way()
        if stopped.is_set():
            raise Cancelled

    told = Job(job.picture, job.height, job.width, progress, job.origin, job.cache)
    work = asyncio.create_task(asyncio.to_thread(enlarged, told, row.way))
    connection, said = await tools.teller(), 0
    while not work.done():
        await asyncio.wait({work}, timeout=_TELL_EVERY)
        if context.should_abort():
            stopped.set()
        if not work.done() and latest[0] != said:
            said = latest[0]
            await connection.execute(
                "update enlargement set done = %s where id = %s and state = 'running'", (said, row.id)
            )
            await connection.execute("select pg_notify(%s, %s)", (CHANNEL, _notice(row, said)))
    try:
        return await work
    finally:
        await asyncio.to_thread(give_back)
