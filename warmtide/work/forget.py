"""What was deleted goes for good once nobody will take it back, and its files with it."""

import asyncio
import time
from datetime import UTC, datetime, timedelta

from sqlalchemy import delete, exists, select, text, union_all
from sqlalchemy.ext.asyncio import AsyncSession

from ..records.models import (
    Cell,
    Enlargement,
    LearnedLook,
    RecipeRow,
    Source,
    StackVersion,
    Study,
    Sweep,
    Take,
    TakeState,
    WorkerRow,
)
from ..records.store import ImageStore, Kept

_KEPT_FOR = timedelta(days=7)
# Takes that another study shows too have their source there, where that study has the same one.
_HANDED_ON = text("""
update take set source_id = there.id
  from source as gone join study on study.id = gone.study_id and study.deleted < :before, cell, sweep, source as there, study as stays
 where take.source_id = gone.id and cell.take_id = take.id and sweep.id = cell.sweep_id and stays.id = sweep.study_id
   and (stays.deleted is null or stays.deleted >= :before) and there.study_id = stays.id and there.original = gone.original
""")
# A file this young may belong to a record that is being written: a worker keeps pictures before it says so.
YOUNG_SECONDS = 24 * 3600.0


async def forget_deleted(session: AsyncSession) -> None:
    """Remove studies and sweeps that were deleted a week ago, and takes and recipes that nothing holds any more; takes
    that other sweeps hold stay."""
    before = datetime.now(UTC) - _KEPT_FOR
    await session.execute(delete(WorkerRow).where(WorkerRow.seen < before))
    await session.execute(_HANDED_ON, {"before": before})
    for table in (Sweep, Study):
        await session.execute(delete(table).where(table.deleted < before))
    await session.execute(delete(Take).where(~exists().where(Cell.take_id == Take.id), Take.state != TakeState.RUNNING))
    used = union_all(select(Take.recipe_id), select(Sweep.recipe_id)).subquery()
    await session.execute(delete(RecipeRow).where(RecipeRow.id.not_in(select(used.c[0]))))


async def held_files(session: AsyncSession) -> set[str]:
    """Names of all files that a record points at."""
    columns = (
        Source.original, Source.depth, Source.region, Source.subject, Take.image, Take.preview, Take.thumb, Take.region, Take.subject, LearnedLook.file,
        Enlargement.image, Enlargement.preview,
    )  # fmt: skip
    found = await session.scalars(union_all(*(select(column).where(column.is_not(None)) for column in columns)))
    layers = await session.scalars(select(StackVersion.files))
    return {name for name in found if name is not None} | {name for files in layers for name in files}


async def forget_files(session: AsyncSession, store: ImageStore) -> int:
    """Remove files that no record points at and that are older than a day, and what was half written; how many bytes were
    given back.

    Safe beside workers and uploads: what they write or take up again is young, and it is looked at again right before it
    goes.
    """
    old = time.time() - YOUNG_SECONDS
    await asyncio.to_thread(store.remove_parts)
    candidates = await asyncio.to_thread(lambda: [kept for kept in store.everything() if kept.written < old])
    held = await held_files(session)
    loose = [kept for kept in candidates if kept.digest not in held]
    return await asyncio.to_thread(_removed, store, loose, old)


def _removed(store: ImageStore, loose: list[Kept], old: float) -> int:
    given = 0
    for kept in loose:
        if store.written(kept.digest) < old:
            store.remove(kept.digest)
            given += kept.size
    return given
