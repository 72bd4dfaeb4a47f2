"""The queue's tasks. One job a take, deferred in the transaction that plans the sweep."""

import uuid
from typing import Any

import procrastinate
import psycopg
from procrastinate import JobContext, PsycopgConnector
from sqlalchemy import text
from sqlalchemy.ext.asyncio import AsyncSession

HEARTBEAT = 2.0
STALLED_AFTER = 10.0
TASK = "render_take"
CHANNEL = "warmtide"


def make_app(address: str, pool: int = 4) -> procrastinate.App:
    """The queue on a database, with its one task."""
    app = procrastinate.App(connector=PsycopgConnector(conninfo=address, min_size=1, max_size=pool))

    @app.task(name=TASK, queue="takes", pass_context=True)  # type: ignore[untyped-decorator]
    async def render_take(context: JobContext, take_id: str) -> None:
        from .rendering import render_take as work

        await work(context, uuid.UUID(take_id))

    return app


async def defer(app: procrastinate.App, session: AsyncSession, take_id: uuid.UUID, priority: int = 0) -> int:
    """Put a take in the queue within the session's transaction: both are kept or neither."""
    raw = (await (await session.connection()).get_raw_connection()).driver_connection
    task = app.tasks[TASK].configure(connection=raw, priority=priority)
    return int(await task.defer_async(take_id=str(take_id)))


async def tell(connection: "psycopg.AsyncConnection[Any]", event: str) -> None:
    """Send an event to every server."""
    await connection.execute("select pg_notify(%s, %s)", (CHANNEL, event))


async def revive_stalled(app: procrastinate.App) -> int:
    """Put back jobs whose worker has gone silent; how many there were. Something must call this regularly."""
    jobs = await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=STALLED_AFTER)
    count = 0
    for job in jobs:
        await app.job_manager.retry_job(job)
        count += 1
    return count


_ORPHANS = """
select take.id from take
left join procrastinate_jobs job on job.id = take.job_id and job.status in ('todo', 'doing')
where take.state in ('queued', 'running') and job.id is null
for update of take skip locked
"""


async def requeue_orphans(app: procrastinate.App, session: AsyncSession) -> int:
    """Queue takes again that wait for a job which is no longer there (a worker that was cut off in between)."""
    rows = list(await session.scalars(text(_ORPHANS)))
    for take_id in rows:
        job = await defer(app, session, take_id)
        await session.execute(
            text("update take set state = 'queued', step = 0, job_id = :job where id = :id"),
            {"job": job, "id": take_id},
        )
    return len(rows)
