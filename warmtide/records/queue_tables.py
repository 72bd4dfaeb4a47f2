"""The queue library's own tables, and all that reaches into them: nothing else names them.

The library offers no way to move many jobs at once, to hold them back, or to ask for them in the transaction that changes
takes. What is relied on stands in `RELIED_ON`; a test says when a version's tables differ.
"""

import json
from collections.abc import Sequence
from typing import Any

import psycopg
from sqlalchemy import text
from sqlalchemy.ext.asyncio import AsyncSession

# Columns by table with their types, and the states of a job.
RELIED_ON = {
    "procrastinate_jobs": {
        "id": "bigint", "queue_name": "character varying", "priority": "integer", "status": "procrastinate_job_status",
        "scheduled_at": "timestamp with time zone", "worker_id": "bigint",
    },
    "procrastinate_workers": {"id": "bigint", "last_heartbeat": "timestamp with time zone"},
}  # fmt: skip
STATES = ("todo", "doing", "succeeded", "failed", "cancelled", "aborting", "aborted")
# A held job waits for a day that nobody is there to see.
_NEVER = "9999-01-01"
# What workers listen on for new jobs of a queue, and what they are told.
CHANNEL_OF = "procrastinate_queue_v1#{queue}"

# Jobs of queued takes with the rank of the first sweep that wants them, and whether all that want them are paused.
_OF_TAKES = """
(select take.job_id, min(sweep.rank) as rank, bool_and(sweep.paused) as held from take
 join cell on cell.take_id = take.id join sweep on sweep.id = cell.sweep_id
 where take.state = 'queued' and not sweep.stopped group by take.job_id)
"""


async def move_jobs(session: AsyncSession, jobs: Sequence[int], before: str, queue: str, priority: int) -> None:
    """Put jobs that wait in a queue into another, with a priority."""
    await session.execute(
        text(
            "update procrastinate_jobs set queue_name = :queue, priority = :priority"
            " where id = any(:jobs) and status = 'todo' and queue_name = :before"
        ),
        {"queue": queue, "before": before, "jobs": list(jobs), "priority": priority},
    )


async def rank_jobs(session: AsyncSession, queue: str) -> None:
    """Give waiting jobs the rank of the first sweep that wants their take, and put those that fill in among those of a queue."""
    await session.execute(
        text(
            f"update procrastinate_jobs job set priority = -wanted.rank,"
            f" queue_name = case when job.queue_name like 'later-%' then :queue else job.queue_name end from {_OF_TAKES} wanted"
            " where job.id = wanted.job_id and job.status = 'todo'"
        ),
        {"queue": queue},
    )


async def hold_jobs(session: AsyncSession, queue: str) -> None:
    """Hold jobs back whose sweeps are all paused, let the others go, and wake the workers of a queue."""
    await session.execute(
        text(
            "update procrastinate_jobs job set scheduled_at = case when wanted.held then cast(:never as timestamptz) end"
            f" from {_OF_TAKES} wanted where job.id = wanted.job_id and job.status = 'todo'"
            " and (job.scheduled_at is not null) is distinct from wanted.held"
        ),
        {"never": _NEVER},
    )
    said = json.dumps({"type": "job_inserted", "job_id": 0})
    await session.execute(
        text("select pg_notify(:channel, :said)"), {"channel": CHANNEL_OF.format(queue=queue), "said": said}
    )


async def doubt_the_clock(session: AsyncSession) -> None:
    """Workers whose last word lies in the future count as silent: a clock that was set back makes the dead look alive,
    and the living say so again within a second."""
    await session.execute(
        text(
            "update procrastinate_workers set last_heartbeat = now() - interval '1 day'"
            " where last_heartbeat > now() + interval '5 seconds'"
        )
    )


async def takes_without_job(session: AsyncSession) -> list[Any]:
    """Takes that wait for a job which is no longer there, each with its id and its engine; their rows are locked."""
    found = await session.execute(
        text(
            "select take.id, take.engine from take"
            " left join procrastinate_jobs job on job.id = take.job_id and job.status in ('todo', 'doing')"
            " where take.state in ('queued', 'running') and job.id is null for update of take skip locked"
        )
    )
    return list(found.all())


def has_due(connection: "psycopg.Connection[Any]", queue: str) -> bool:
    """Whether a queue has a job that is done just now or could be."""
    return _asked(connection, "status = 'doing' or status = 'todo' and scheduled_at is null", queue)


def has_waiting(connection: "psycopg.Connection[Any]", queue: str) -> bool:
    """Whether a queue has a job that waits, held back or not."""
    return _asked(connection, "status = 'todo'", queue)


def _asked(connection: "psycopg.Connection[Any]", which: str, queue: str) -> bool:
    question = f"select exists (select from procrastinate_jobs where queue_name = %s and ({which}))"
    found = connection.execute(question, (queue,)).fetchone()
    return bool(found and found[0])


def forget_workers(connection: "psycopg.Connection[Any]") -> None:
    """Take every worker for gone, and put back what they were doing."""
    connection.execute("update procrastinate_jobs set status = 'todo', worker_id = null where status = 'doing'")
    connection.execute("delete from procrastinate_workers")
