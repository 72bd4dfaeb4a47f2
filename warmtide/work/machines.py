"""What the owner of an installation sees of it: workers by machine, what waits, what has failed."""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from sqlalchemy import func, select
from sqlalchemy.ext.asyncio import AsyncSession

from ..records.models import Take, TakeState, WorkerRow
from .presence import GONE

# What the last hour is, and how many sentences of failures are told.
_LAST_HOUR, _MOST_FAULTS = timedelta(hours=1), 8
# Workers that have been gone for so long are told no more.
_FORGOTTEN = timedelta(minutes=10)


@dataclass(frozen=True)
class Fault:
    """A sentence that takes stand failed with, and how many do."""

    sentence: str
    takes: int


@dataclass(frozen=True)
class Machines:
    """Every worker that is known, and what waits and failed, as it is just now; `waiting` by the engine that takes wait for."""

    workers: list[WorkerRow]
    waiting: dict[str, int]
    running: int
    done: int
    seconds: float
    faults: list[Fault]
    at: datetime

    def here(self, worker: WorkerRow) -> bool:
        """Whether a worker has said lately that it is there."""
        return (self.at - worker.seen).total_seconds() < GONE


async def machines(session: AsyncSession) -> Machines:
    """Read it; workers that have been gone for ten minutes are told no more."""
    at = datetime.now(UTC)
    lately = select(WorkerRow).where(WorkerRow.seen > at - _FORGOTTEN)
    workers = list(await session.scalars(lately.order_by(WorkerRow.host, WorkerRow.does, WorkerRow.began)))
    counted = select(Take.engine, func.count()).where(Take.state == TakeState.QUEUED).group_by(Take.engine)
    waiting: dict[str, int] = {engine: count for engine, count in (await session.execute(counted)).all()}
    running = await session.scalar(select(func.count()).where(Take.state == TakeState.RUNNING))
    done, seconds = (
        await session.execute(
            select(func.count(), func.coalesce(func.avg(Take.seconds), 0)).where(
                Take.state == TakeState.DONE, Take.finished > at - _LAST_HOUR
            )
        )
    ).one()
    faults = (
        await session.execute(
            select(Take.fault, func.count().label("takes"))
            .where(Take.state == TakeState.FAILED, Take.fault.is_not(None))
            .group_by(Take.fault)
            .order_by(func.count().desc())
            .limit(_MOST_FAULTS)
        )
    ).all()
    return Machines(workers, waiting, running or 0, done, float(seconds), [Fault(str(f), n) for f, n in faults], at)
