"""The line-up: what waits and runs, of every study; its order, pauses and stops."""

from collections.abc import Iterable

from fastapi import APIRouter

from ..work import lineup
from .program_schemas import QueueChange, QueuedSweep
from .services import Session, Shared
from .sweeps import stop_takes

router = APIRouter(tags=["queue"])


def _views(waiting: Iterable[lineup.Waiting]) -> list[QueuedSweep]:
    return [
        QueuedSweep(
            id=w.sweep.id, study_id=w.study.id, study=w.study.name, source=w.sweep.source.name, recipe=w.sweep.recipe.body,
            spans=w.sweep.spans, paused=w.sweep.paused, total=w.total, done=w.done, failed=w.failed,
            seconds=round(w.seconds, 2), ready_in=None if w.ready_in is None else round(w.ready_in, 2),
        )
        for w in waiting
    ]  # fmt: skip


@router.get("/queue")
async def read_queue(session: Session, shared: Shared) -> list[QueuedSweep]:
    """Every sweep that waits or runs, first what is rendered first, with the time until each is done."""
    return _views(await lineup.lineup(session, shared.workers))


@router.patch("/queue")
async def change_queue(change: QueueChange, session: Session, shared: Shared) -> list[QueuedSweep]:
    """Another order, sweeps paused or going on; what is given is changed."""
    if change.order is not None:
        await lineup.reorder(session, change.order)
    if change.paused is not None:
        await lineup.pause(session, change.paused, True)
    if change.resumed is not None:
        await lineup.pause(session, change.resumed, False)
    return _views(await lineup.lineup(session, shared.workers))


@router.delete("/queue")
async def stop_queue(session: Session, shared: Shared) -> list[QueuedSweep]:
    """Stop everything that waits or runs; finished takes stay."""
    for waiting in await lineup.lineup(session, shared.workers):
        await stop_takes(session, shared, waiting.sweep.id)
    return _views(await lineup.lineup(session, shared.workers))
