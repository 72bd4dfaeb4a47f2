"""The sweeps that wait or run, of every study, in the order in which they are rendered."""

import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import func, select, update
from sqlalchemy.ext.asyncio import AsyncSession
from sqlalchemy.orm import selectinload

from ..core.model.errors import BadInput
from ..records.models import Cell, Study, Sweep, Take, TakeState
from ..records.queue_tables import hold_jobs, move_jobs, rank_jobs
from .pace import machine_factor
from .queue import LATER, TAKES

_OPEN = (TakeState.QUEUED, TakeState.RUNNING)
# The rank of sweeps that fill in behind all others, whenever those are begun.
BEHIND = 1_000_000


@dataclass(frozen=True)
class Waiting:
    """A sweep in the line-up.

    Attributes
    ----------
    seconds : until its own takes are done, once it is its turn. ready_in : seconds until it is done, counting what
    stands before it; None while it is paused.
    """

    sweep: Sweep
    study: Study
    total: int
    done: int
    failed: int
    seconds: float
    ready_in: float | None


def _open_sweeps() -> Any:
    return (
        select(Cell.sweep_id)
        .join(Take, Take.id == Cell.take_id)
        .join(Sweep, Sweep.id == Cell.sweep_id)
        .where(Take.state.in_(_OPEN), Sweep.stopped.is_(False), Sweep.deleted.is_(None))
    )


async def lineup(session: AsyncSession, workers: int) -> list[Waiting]:
    """Every sweep that has takes waiting or running, first what is rendered first."""
    sweeps = list(
        await session.scalars(
            select(Sweep)
            .where(Sweep.id.in_(_open_sweeps()))
            .options(selectinload(Sweep.study), selectinload(Sweep.recipe), selectinload(Sweep.source))
            .order_by(Sweep.rank, Sweep.created)
        )
    )
    rows = await session.execute(
        select(Cell.sweep_id, Take.id, Take.state, Take.expected, Take.step, Take.steps)
        .join(Take, Take.id == Cell.take_id)
        .where(Cell.sweep_id.in_([sweep.id for sweep in sweeps]))
    )
    takes: dict[uuid.UUID, dict[uuid.UUID, Any]] = {sweep.id: {} for sweep in sweeps}
    for row in rows:
        takes[row.sweep_id][row.id] = row
    factor = await machine_factor(session) / max(workers, 1)
    found, counted, before = [], set[uuid.UUID](), 0.0
    for sweep in sweeps:
        own = list(takes[sweep.id].values())
        left = [row for row in own if row.state in _OPEN]
        seconds = factor * sum(row.expected * (1 - row.step / max(row.steps, 1)) for row in left)
        if not sweep.paused:
            # A take that stands in two sweeps is rendered once.
            before += factor * sum(
                row.expected * (1 - row.step / max(row.steps, 1)) for row in left if row.id not in counted
            )
            counted |= {row.id for row in left}
        states = [row.state for row in own]
        found.append(
            Waiting(
                sweep, sweep.study, len(own), states.count("done"), states.count("failed"), seconds,
                None if sweep.paused else before,
            )
        )  # fmt: skip
    return found


async def last_rank(session: AsyncSession) -> int:
    """The rank at the end of the line-up, before what fills in, for a sweep that joins it."""
    last = select(func.max(Sweep.rank)).where(Sweep.id.in_(_open_sweeps()), Sweep.rank < BEHIND)
    return await session.scalar(last) or 0


async def hasten(session: AsyncSession, jobs: Sequence[int], rank: int) -> None:
    """Bring jobs that would fill in to where takes are rendered that are waited for."""
    await move_jobs(session, jobs, LATER, TAKES, -rank)


async def reorder(session: AsyncSession, wanted: Sequence[uuid.UUID]) -> None:
    """Render sweeps in the order given; those that are not named keep their order behind them."""
    sweeps = await session.scalars(
        select(Sweep).where(Sweep.id.in_(_open_sweeps())).order_by(Sweep.rank, Sweep.created)
    )
    places = {sweep_id: k for k, sweep_id in enumerate(wanted)}
    for rank, sweep in enumerate(sorted(sweeps, key=lambda s: places.get(s.id, len(places))), start=1):
        sweep.rank = rank
    await session.flush()
    await rank_jobs(session, TAKES)


async def pause(session: AsyncSession, sweep_ids: Sequence[uuid.UUID], on: bool) -> None:
    """Keep what waits of some sweeps from starting, or let it go on; takes that run are finished."""
    if not on and not sweep_ids:
        return
    known = set(await session.scalars(select(Sweep.id).where(Sweep.id.in_(sweep_ids))))
    if missing := set(sweep_ids) - known:
        raise BadInput(f"There is no sweep {missing.pop()}; read the line-up again.")
    await session.execute(update(Sweep).where(Sweep.id.in_(sweep_ids)).values(paused=on))
    await session.flush()
    await follow_pauses(session)


async def follow_pauses(session: AsyncSession) -> None:
    """Jobs wait for ever when every sweep that wants their take is paused, and are due otherwise."""
    await hold_jobs(session, TAKES)
