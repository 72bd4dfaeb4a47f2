"""The queue's tasks. One job a take, deferred in the transaction that plans the sweep."""

import json
import uuid
from collections.abc import Iterable
from typing import TYPE_CHECKING, Any

import procrastinate
import psycopg
from procrastinate import JobContext, PsycopgConnector
from procrastinate.jobs import Job, Status
from sqlalchemy import func, select, text
from sqlalchemy.ext.asyncio import AsyncSession

from ..core.model.recipe import ENGINE_VERSION
from ..records.queue_tables import doubt_the_clock, takes_without_job

if TYPE_CHECKING:
    from .rendering import Tools

HEARTBEAT = 1.0
STALLED_AFTER = 5.0
# Workers that a take may cost, and how often its job may be lost without one (a database that ended, say).
MOST_DEATHS, MOST_LOSSES = 3, 10
BEHIND_TAKES = -1_000_000
DIED = "Rendering this take ended its worker three times; change its size or its recipe and run it again."
DIED_LARGE = "Making this picture larger ended its worker three times; choose a smaller size or a plainer way."
TASK, ENLARGE = "render_take", "enlarge"
# What artists wait for, and what fills in when nothing else is to do, in processes that give way to all others.
# Named by the engine's version, so that a worker of another one, on a machine that was not brought up to date, takes no job that it can't do.
TAKES, LATER = f"takes-{ENGINE_VERSION}", f"later-{ENGINE_VERSION}"
# Takes of other engines, each in a queue of its own: one that is slow or away holds up nobody else.
OTHERS = "engine-"
CHANNEL = "warmtide"


def make_app(address: str, pool: int = 4, tools: "Tools | None" = None) -> procrastinate.App:
    """The queue on a database, with its tasks; a worker brings the tools that it is done with."""
    app = procrastinate.App(connector=PsycopgConnector(conninfo=address, min_size=1, max_size=pool))

    @app.task(name=TASK, queue=TAKES, pass_context=True)  # type: ignore[untyped-decorator]
    async def render_take(context: JobContext, take_id: str) -> None:
        from .rendering import render_take as work

        if tools is None:
            raise RuntimeError("this queue was opened without the tools to render")
        await work(tools, context, uuid.UUID(take_id))

    @app.task(name=ENLARGE, queue=TAKES, pass_context=True)  # type: ignore[untyped-decorator]
    async def enlarge(context: JobContext, enlargement_id: str) -> None:
        from .enlarging import enlarge as work

        if tools is None:
            raise RuntimeError("this queue was opened without the tools to enlarge")
        await work(tools, context, uuid.UUID(enlargement_id))

    return app


def queue_of(engine: str) -> str:
    """The queue of a take, by what its engine is known by: a version of the built-in one, or another's name and version."""
    name, _, version = engine.partition(" ")
    return f"{OTHERS}{name}" if version else TAKES


def _again_in(job: Job) -> str:
    """Where a job goes whose worker died: to those who wait for takes, or back to its own engine."""
    return job.queue if job.queue.startswith(OTHERS) else TAKES


async def defer(
    app: procrastinate.App, session: AsyncSession, take_id: uuid.UUID, priority: int = 0, queue: str = TAKES
) -> int:
    """Put a take in a queue within the session's transaction: both are kept or neither."""
    raw = (await (await session.connection()).get_raw_connection()).driver_connection
    task = app.tasks[TASK].configure(connection=raw, priority=priority, queue=queue)
    return int(await task.defer_async(take_id=str(take_id)))


async def defer_enlargement(app: procrastinate.App, session: AsyncSession, enlargement_id: uuid.UUID) -> int:
    """Put an enlargement in the queue within the session's transaction, behind all takes: somebody looks at those."""
    raw = (await (await session.connection()).get_raw_connection()).driver_connection
    task = app.tasks[ENLARGE].configure(connection=raw, priority=BEHIND_TAKES, queue=TAKES)
    return int(await task.defer_async(enlargement_id=str(enlargement_id)))


async def tell(connection: "psycopg.AsyncConnection[Any]", take_id: uuid.UUID, **progress: float) -> None:
    """Tell every server that a take has changed, or how far it is; servers read for themselves what it has become, so
    that no notice is ever too long for the database to pass on."""
    await connection.execute("select pg_notify(%s, %s)", (CHANNEL, json.dumps({"take": str(take_id), **progress})))


async def announce(session: AsyncSession, take_ids: Iterable[uuid.UUID]) -> None:
    """Tell every server, once the session's transaction is kept, that takes have changed."""
    for take_id in take_ids:
        await session.execute(select(func.pg_notify(CHANNEL, json.dumps({"take": str(take_id)}))))


# What is counted, and the most of it that a take may come to.
_COUNTS = {"deaths": MOST_DEATHS, "losses": MOST_LOSSES}


async def _counted(session: AsyncSession, take_id: str, what: str) -> bool:
    """Count that a take's worker died, or that its job was lost otherwise; whether it may be tried again."""
    many = f"{what} + 1 >= {_COUNTS[what]}"
    state = await session.scalar(
        text(
            f"update take set {what} = {what} + 1, state = case when {many} then 'failed' else 'queued' end,"
            f" fault = case when {many} then :fault end, step = 0"
            " where id = :id and state in ('queued', 'running') returning state"
        ),
        {"id": take_id, "fault": DIED},
    )
    return bool(state == "queued")


async def _enlarged_again(app: procrastinate.App, session: AsyncSession, job: Job) -> None:
    """An enlargement whose worker died is tried again, until it has cost several."""
    state = await session.scalar(
        text(
            "update enlargement set deaths = deaths + 1, done = 0,"
            " state = case when deaths + 1 >= :most then 'failed' else 'queued' end, fault = case when deaths + 1 >= :most then :fault end"
            " where id = :id and state in ('queued', 'running') returning state"
        ),
        {"id": job.task_kwargs["enlargement_id"], "most": MOST_DEATHS, "fault": DIED_LARGE},
    )
    if state == "queued":
        await app.job_manager.retry_job(job, priority=job.priority - 1, queue=TAKES)
    else:
        await app.job_manager.finish_job(job, Status.FAILED, delete_job=True)


async def revive_stalled(app: procrastinate.App, session: AsyncSession) -> list[str]:
    """Put back jobs whose worker has gone silent; ids of their takes. A take that has cost several workers fails instead.
    Something must call this regularly."""
    jobs = await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=STALLED_AFTER)
    found = []
    for job in jobs:
        if job.task_name == ENLARGE:
            await _enlarged_again(app, session, job)
            continue
        take_id = str(job.task_kwargs["take_id"])
        found.append(take_id)
        if await _counted(session, take_id, "deaths"):
            # It comes after its fellows: should it be to blame, they are done first. What was to fill in has lost the
            # process that did it.
            await app.job_manager.retry_job(job, priority=job.priority - 1, queue=_again_in(job))
        else:
            await app.job_manager.finish_job(job, Status.FAILED, delete_job=True)
    await doubt_the_clock(session)
    return found


async def requeue_orphans(app: procrastinate.App, session: AsyncSession) -> list[str]:
    """Queue takes again that wait for a job which is no longer there (a worker that was cut off in between); their ids."""
    rows = await takes_without_job(session)
    for take_id, engine in rows:
        if await _counted(session, str(take_id), "losses"):
            job = await defer(app, session, take_id, queue=queue_of(engine))
            await session.execute(text("update take set job_id = :job where id = :id"), {"job": job, "id": take_id})
    return [str(take_id) for take_id, _ in rows]
